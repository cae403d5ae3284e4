# Velours. Two commands do everything on a fresh machine:
#   make demo    start the application with its demo reel
#   make test    pass the tests
# Each installs what it needs first.

export GOEXPERIMENT := simd
# msgpack is the longest compile of the packages, and nothing here speaks it
export GOFLAGS := -mod=readonly -tags=nomsgpack
# SQLite is the longest compile of a first build; it is never what a person waits for afterwards
export CGO_CFLAGS := -O1 -g0
PROGRAM := bin/velours
GENERATED := web/src/api/types.gen.ts core/vec/kernels16.go core/vec/oklab16.go core/vec/pointwise16.go docs/reference.md docs/stocks.md docs/look.schema.json docs/stock.schema.json docs/medium.schema.json
FRONT := server/dist/index.html
GO_FILES := $(shell find . -name '*.go' -not -path './web/*')
WEB_FILES := $(shell find web/src web/index.html web/package.json web/vite.config.ts -type f 2>/dev/null)

.PHONY: demo test pictures survive race fuzz bench soak lint build generate media ffmpeg chromium opencolorio clean

# A first start fetches and compiles side by side.
demo:
	@$(MAKE) --no-print-directory -j4 ffmpeg warm $(FRONT)
	@$(MAKE) --no-print-directory build
	$(PROGRAM) demo

.PHONY: warm
warm:
	@test -x $(PROGRAM) || go build github.com/gin-gonic/gin github.com/coder/websocket ./library ./media ./studio ./core/...

build: $(PROGRAM)

$(PROGRAM): $(GO_FILES) $(FRONT) go.mod go.sum core/film/stocks/*.json core/film/media/*.json core/steps/recipes/*.json demo/looks/*.json demo/media/*
	go build -o $@ ./cmd/velours

$(FRONT): $(WEB_FILES) web/node_modules/.installed
	cd web && npm run --silent build
	touch server/dist/.keep

web/node_modules/.installed: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --loglevel=error
	touch $@

test: ffmpeg chromium opencolorio build
	VELOURS_EXPECT_VECTORS=$$(grep -q avx2 /proc/cpuinfo && echo 1) go test -timeout 20m ./...

lint: $(FRONT)
	@out=$$(gofmt -l $$(git ls-files '*.go')); if [ -n "$$out" ]; then echo "gofmt: $$out"; exit 1; fi
	go vet ./...
	go tool staticcheck ./...
	cd web && npm run --silent lint
	@before=$$(cat $(GENERATED) | cksum); go generate ./server ./core/vec ./docs/make; \
	[ "$$before" = "$$(cat $(GENERATED) | cksum)" ] || { echo "generated files were not current: commit what make generate wrote"; exit 1; }

generate:
	go generate ./server ./core/vec ./docs/make

bench: ffmpeg chromium build
	go run ./bench
	VELOURS_MEASURE=10s go test ./e2e -count=1 -run 'TestPlaying$$' -v | grep 'frames presented'

# A client that drags, seeks and switches at random, for half an hour.
soak: ffmpeg build
	VELOURS_SOAK=30m go test ./server -count=1 -run 'TestRandomHands$$' -v -timeout 45m

# Every picture of the list in studio/testdata, to the bit: minutes of work, of which `make test` does a part.
pictures: ffmpeg
	VELOURS_PICTURES=all go test ./studio -count=1 -run "TestPicturesKeepTheirBits$$" -v -timeout 30m

# Killed a hundred times while it edits and delivers; `make test` does thirty.
survive: ffmpeg
	VELOURS_KILLS=100 go test ./cmd/velours -count=1 -run 'TestSurvivesBeingKilled$$' -v -timeout 30m

# What runs in many goroutines, under the race detector; the heavy journeys are left to `make test`.
race: ffmpeg $(FRONT)
	go test -race -short -timeout 30m ./library ./media ./studio ./server

# Every parser of ours for a minute each.
fuzz: ffmpeg
	@for p in $$(grep -rl '^func Fuzz' --include=*_test.go . | xargs -n1 dirname | sort -u); do \
	  for f in $$(grep -rhoE '^func Fuzz\w+' $$p/*_test.go | sed 's/func //'); do \
	    echo "$$p $$f"; go test $$p -run '^$$' -fuzz "^$$f\$$" -fuzztime $${FUZZTIME:-60s} || exit 1; done; done

# Remakes the demo reel from its scenes: an hour or two on two cores.
media: ffmpeg
	go run ./demo/generate --to data/frames
	go run ./demo/generate --to data/frames --encode demo/media

ffmpeg:
	@command -v ffmpeg >/dev/null && command -v ffprobe >/dev/null || $(MAKE) --no-print-directory install PACKAGES=ffmpeg

chromium:
	@command -v chromium >/dev/null || $(MAKE) --no-print-directory install PACKAGES=chromium

# An independent reader of tables and transforms, for the tests alone.
opencolorio:
	@command -v ociochecklut >/dev/null || $(MAKE) --no-print-directory install PACKAGES=opencolorio-tools

.PHONY: install
install:
	@echo "installing $(PACKAGES)"; \
	sudo=$$(command -v sudo || true); [ "$$(id -u)" = 0 ] && sudo=; \
	$$sudo apt-get update -qq && DEBIAN_FRONTEND=noninteractive $$sudo apt-get install -y -qq --no-install-recommends $(PACKAGES) >/dev/null

clean:
	rm -rf bin data server/dist/assets server/dist/index.html web/node_modules
