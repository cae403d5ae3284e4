package film

import (
	"embed"
	"fmt"
	"path"
	"slices"
	"strings"
	"sync"

	"velours/core/registry"
)

// The cards that ship, and those of stocks as they shipped before process 3 of looks gave them characters of their own.
//
//go:embed stocks/*.json media/*.json earlier/*.json
var cards embed.FS

// shipped and media are in the order in which they are listed.
var (
	shipped []*Stock
	media   []*Medium
	own     registry.Registry[*Stock]
)

// before are the stocks that ship as they were before a process of looks, by id, where they were otherwise; the oldest first.
// Only an older look needs them.
var before = []struct {
	process int
	stocks  func() map[string]*Stock
}{{3, before3}, {4, before4}}

// before3 are the cards from which stocks came until looks of process 3.
var before3 = sync.OnceValue(func() map[string]*Stock {
	out := map[string]*Stock{}
	for _, f := range must(cards.ReadDir("earlier")) {
		s := must(ParseStock(must(cards.ReadFile(path.Join("earlier", f.Name())))))
		out[s.ID] = s
	}
	return out
})

// before4 are those of the cards of today whose layers draw apart, as they drew until looks of process 4: alike.
var before4 = sync.OnceValue(func() map[string]*Stock {
	out := map[string]*Stock{}
	for _, s := range shipped {
		alike, apart := must(ParseStock(card("stocks", s.ID))), false
		for i := range alike.Layers {
			apart = apart || alike.Layers[i].Scatter != 0
			alike.Layers[i].Scatter = 0
		}
		if apart {
			must(0, alike.Ready())
			out[s.ID] = alike
		}
	}
	return out
})

func init() {
	for _, name := range []string{
		"aubade-250d", "lagune-50d", "nacre-320t", "serein-500t", "corail-200t", "pampille-500t", "ondine-500t",
		"satin-160", "vitrail-100", "percale-400", "tulle-400", "damas-800", "indienne-50", "vichy-200",
		"soierie-64", "brocart-100", "chintz-160",
		"mine-50", "verveine-64", "fusain-125", "encre-400", "ardoise-1600", "givre-200", "craie-25",
		"trame-12", "duplex-10", "moire-100", "tabac-100",
	} {
		shipped = append(shipped, must(ParseStock(card("stocks", name))))
	}
	for _, name := range []string{
		"rideau", "foyer", "coulisse", "loge", "herse", "jumelles", "papier", "papier-mat", "direct", "argent", "lanterne", "veilleuse", "scan", "scan-inter",
	} {
		media = append(media, must(parseMedium(card("media", name))))
	}
}

func card(dir, name string) []byte { return must(cards.ReadFile(path.Join(dir, name+".json"))) }

func must[T any](v T, err error) T {
	if err != nil {
		panic(fmt.Sprintf("film: %v", err))
	}
	return v
}

// Stocks lists the stocks that ship, then those that were made here.
func Stocks() []*Stock { return slices.Concat(shipped, own.All()) }

// Know adds a stock of one's own, in place of one of its id. It must be ready, and not have the id of a shipped one.
func Know(s *Stock) error {
	for _, q := range shipped {
		if q.ID == s.ID {
			return fmt.Errorf("stock card %s: a stock that ships has this id; give yours another", s.ID)
		}
	}
	own.Add(s.ID, s)
	return nil
}

// Forget takes a stock of one's own away.
func Forget(id string) { own.Remove(id) }

// Media lists the media that ship.
func Media() []*Medium { return media }

// FindStock returns the stock with an id, or an error that lists the ids there are.
func FindStock(id string) (*Stock, error) {
	var ids []string
	for _, s := range Stocks() {
		if s.ID == id {
			return s, nil
		}
		ids = append(ids, s.ID)
	}
	return nil, fmt.Errorf("unknown stock %q; there are %s", id, strings.Join(ids, ", "))
}

// FindMedium returns the medium with an id, or an error that lists the ids there are.
func FindMedium(id string) (*Medium, error) {
	var ids []string
	for _, m := range media {
		if m.ID == id {
			return m, nil
		}
		ids = append(ids, m.ID)
	}
	return nil, fmt.Errorf("unknown print medium %q; there are %s", id, strings.Join(ids, ", "))
}
