package film

import "testing"

// The cards as looks of process 3 noted them, before layers scattered light each by its own share.
var ofProcess3 = map[string]string{
	"aubade-250d":   "fbcac6f287802b66",
	"lagune-50d":    "48b7854d12a6492d",
	"nacre-320t":    "702c90db597d23bd",
	"serein-500t":   "f9a4c00288f58fad",
	"corail-200t":   "e12e64f80749d38e",
	"pampille-500t": "7b59978dc485b4fc",
	"ondine-500t":   "257c5f1bd4691f59",
	"satin-160":     "a8b7af8482c15dfa",
	"vitrail-100":   "57c9c84e42da4661",
	"percale-400":   "62b36ec62b200905",
	"tulle-400":     "148a9a0a31f62ed4",
	"damas-800":     "08c53f5b7bdc3c89",
	"indienne-50":   "8910c7fec8a9324b",
	"vichy-200":     "9d75f84448861556",
	"soierie-64":    "a8778287d44b4166",
	"brocart-100":   "ab9ac1f3fd75b0d7",
	"chintz-160":    "142dbe7bda22c801",
	"mine-50":       "24c705151e2116bf",
	"verveine-64":   "63902113355e7a09",
	"fusain-125":    "67688455775f7c78",
	"encre-400":     "665d4334d596fcb8",
	"ardoise-1600":  "f1624f47f6ca9d4f",
	"givre-200":     "1dd8c48c7ea0c6b8",
	"craie-25":      "1ddc0663b4ea94d9",
	"trame-12":      "56a49f054c766817",
	"duplex-10":     "1156629b4e6f1b02",
	"moire-100":     "252ac790099ecb20",
	"tabac-100":     "5f7cf1c127832ab5",
}

// A look of process 3 goes on with the card it noted, and one that noted none with the same; a look of today has today's.
func TestEarlierCardsOfProcess3(t *testing.T) {
	changed := 0
	for id, digest := range ofProcess3 {
		s, err := StockAs(id, digest)
		if err != nil || s.Digest() != digest {
			t.Errorf("%s of process 3: %v, %v", id, s, err)
			continue
		}
		for layer := range s.Layers {
			if s.Drawn(layer) != s.MTF {
				t.Errorf("%s of process 3 draws its layers apart", id)
			}
		}
		now, _ := FindStock(id)
		if got := EarlierDigest(id, digest, 3); got != digest {
			t.Errorf("%s goes on as %s", id, got)
		}
		if got := EarlierDigest(id, "", 3); now.Digest() != digest && got != digest || now.Digest() == digest && got != "" {
			t.Errorf("%s without a note goes on as %q", id, got)
		}
		if got := EarlierDigest(id, "", 4); got != "" {
			t.Errorf("%s of today goes on as %q", id, got)
		}
		if now.Digest() != digest {
			changed++
		}
	}
	if changed != 20 {
		t.Errorf("%d of 28 stocks draw their layers apart", changed)
	}
}
