package noise

import (
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"velours/core/strict"
)

// CardVersion is the version of the grain card's format that this program writes.
const CardVersion = 1

// cardTones is at how many luminances a card says how its noise deviates.
const cardTones = 17

// Card is the noise of a clip, to keep, to compare and to follow: a grain card.
type Card struct {
	Velours int    `json:"velours" doc:"version of the format"`
	ID      string `json:"id" doc:"letters, figures and hyphens"`
	Label   string `json:"label" doc:"its name"`
	From    string `json:"from" doc:"what it was measured from"`
	Codes   string `json:"codes" doc:"whose code values deviate: an encoding's or a display's id"`
	Width   int    `json:"width" doc:"how wide the frames were, in pixels"`
	// Tones are luminances of code values, rising; Deviation that of red, green and blue at each.
	Tones     []float64    `json:"tones" doc:"luminances of code values, rising, 1 for the top of the range"`
	Deviation [][3]float64 `json:"deviation" doc:"standard deviation of red, green and blue at each of the tones, in code values"`
	// Own, if it is there, is how red, green and blue deviate over their own code values, which is what grain that follows the card goes by.
	Own         []OwnTones `json:"own,omitempty" doc:"how red, green and blue each deviate over their own code values"`
	Correlation [3]float64 `json:"correlation" doc:"that of red with green, green with blue, and red with blue"`
	// Across and Down are the correlations of each channel with itself so many pixels further, from 0 on.
	Across [3][]float64 `json:"across" doc:"correlation of each channel with itself so many pixels across, from 0 on"`
	Down   [3][]float64 `json:"down" doc:"the same down"`
	Spot   [3]float64   `json:"spot" doc:"deviation of the Gaussian that white noise would be seen through to be as soft, in pixels"`
	Hold   int          `json:"hold" doc:"how many frames keep one noise"`
	Trust  Trust        `json:"trust" doc:"how far it may be believed"`
}

// OwnTones is how a channel deviates over its own code values, evenly from one to another; beyond them it goes on as it ends.
type OwnTones struct {
	From      float64   `json:"from" doc:"code value of the first"`
	To        float64   `json:"to" doc:"code value of the last"`
	Deviation []float64 `json:"deviation" doc:"standard deviation at values evenly between, in code values"`
}

// at is the deviation at a code value.
func (o *OwnTones) at(code float64) float64 {
	last := len(o.Deviation) - 1
	if last == 0 || o.To <= o.From {
		return o.Deviation[0]
	}
	u := min(max((code-o.From)/(o.To-o.From), 0), 1) * float64(last)
	i := min(int(u), last-1)
	return o.Deviation[i] + (u-float64(i))*(o.Deviation[i+1]-o.Deviation[i])
}

// Trust says how far a card may be believed, and why.
type Trust struct {
	Pairs   int     `json:"pairs" doc:"pairs of frames that were compared"`
	Blocks  int     `json:"blocks" doc:"parts of the picture that were believed"`
	Clipped float64 `json:"clipped" doc:"share of the picture that is clipped"`
	Moving  float64 `json:"moving" doc:"share in which more differs than noise"`
	From    float64 `json:"from" doc:"darkest luminance that was measured"`
	To      float64 `json:"to" doc:"brightest luminance that was measured"`
	// Within is how far off deviations may be, as a share; Why says what limits them, a sentence each.
	Within float64  `json:"within" doc:"how far off deviations may be, as a share"`
	Why    []string `json:"why,omitempty" doc:"what limits it"`
}

// Schema is the JSON Schema (2020-12) of a grain card.
func Schema() map[string]any {
	return strict.Schema(reflect.TypeFor[Card](), "A Velours grain card")
}

// Named is the card under a name, its id ending in a digest of what it holds, so that who names the id means this very card.
func (c *Card) Named(id, label string) *Card {
	n := *c
	n.Label = label
	n.ID = id + "-" + n.digest()
	return &n
}

// Sealed tells that the id ends in the digest of what the card holds.
func (c *Card) Sealed() bool { return strings.HasSuffix(c.ID, "-"+c.digest()) }

// digest is that of all but the id.
func (c *Card) digest() string {
	n := *c
	n.ID = ""
	sum := sha256.Sum256(n.JSON())
	return fmt.Sprintf("%x", sum[:4])
}

// mostText is how long the words of a card may be, in bytes, and leastWidth how wide frames are at least: grain is not measured of smaller ones.
const mostText, leastWidth = 300, tile

// lessBelow is the share of a deviation below which another one besides is not told from none.
const lessBelow = 0.02

// Less is a card of what has to come to grain of another card for both together to be as this one says, tone by tone: variances add up.
func (c *Card) Less(other *Card) *Card {
	if other == nil {
		return c
	}
	n := *c
	n.Deviation = make([][3]float64, len(c.Tones))
	for i, y := range c.Tones {
		own := other.At(y)
		for k, d := range c.Deviation[i] {
			if left := d*d - own[k]*own[k]; left > lessBelow*lessBelow*d*d {
				n.Deviation[i][k] = math.Round(math.Sqrt(left)*1e5) / 1e5
			}
		}
	}
	n.Own = nil
	for k, o := range c.Own {
		less := OwnTones{From: o.From, To: o.To, Deviation: make([]float64, len(o.Deviation))}
		for i, d := range o.Deviation {
			own := other.Of(k, o.From+(o.To-o.From)*float64(i)/float64(max(len(o.Deviation)-1, 1)))
			if left := d*d - own*own; left > lessBelow*lessBelow*d*d {
				less.Deviation[i] = math.Round(math.Sqrt(left)*1e5) / 1e5
			}
		}
		n.Own = append(n.Own, less)
	}
	return &n
}

// Of is what a channel deviates by at a code value of its own; of a card that does not say, what it deviates by at that luminance.
func (c *Card) Of(channel int, code float64) float64 {
	if channel < len(c.Own) {
		return c.Own[channel].at(code)
	}
	return c.At(code)[channel]
}

// Card is the measurement as a card.
func (m *Measured) Card(id, label, from, codes string, width int) *Card {
	c := &Card{Velours: CardVersion, ID: id, Label: label, From: from, Codes: codes, Width: width, Correlation: m.Correlation, Hold: m.Hold, Trust: m.trust()}
	short := func(v float64) float64 { return math.Round(v*1e5) / 1e5 }
	for i := range cardTones {
		y := m.From + (m.To-m.From)*float64(i)/(cardTones-1)
		if m.To-m.From < 1e-3 { // one tone
			if i > 0 {
				break
			}
		}
		c.Tones = append(c.Tones, short(y))
		c.Deviation = append(c.Deviation, [3]float64{short(m.Deviation(0, y)), short(m.Deviation(1, y)), short(m.Deviation(2, y))})
	}
	for i := range m.Own {
		o := &m.Own[i]
		tones := OwnTones{From: short(o.From), To: short(o.To)}
		n := cardTones
		if o.To-o.From < 1e-3 { // one value
			n = 1
		}
		for k := range n {
			tones.Deviation = append(tones.Deviation, short(o.Deviation(o.From+(o.To-o.From)*float64(k)/float64(max(n-1, 1)))))
		}
		c.Own = append(c.Own, tones)
	}
	for i := range 3 {
		c.Spot[i], c.Correlation[i] = short(m.Spot(i)), short(c.Correlation[i])
		for k := range lags + 1 {
			c.Across[i] = append(c.Across[i], short(m.Neighbours[i][lags][lags+k]))
			c.Down[i] = append(c.Down[i], short(m.Neighbours[i][lags+k][lags]))
		}
	}
	return c
}

// trust says what limits the measurement. Its bars are those that clips of known noise kept to: 6 % where all is at rest or pans, 13 % where
// things move by themselves.
func (m *Measured) trust() Trust {
	t := Trust{Pairs: m.Pairs, Blocks: m.Blocks, Clipped: m.Clipped, Moving: m.Moving, From: m.From, To: m.To, Within: 0.06}
	limit := func(within float64, why string, args ...any) {
		t.Within = max(t.Within, within)
		t.Why = append(t.Why, fmt.Sprintf(why, args...))
	}
	if len(m.Shifts) > 1 || m.Moving > 0.1 {
		limit(0.13, "Things move by themselves; what of it is left counts as noise.")
	}
	if m.Frames == 1 {
		limit(0.15, "One frame was measured, where it is flat: texture that is as fine as grain counts as grain.")
	} else if m.Pairs < 3 {
		limit(0.08, "Only %d pair of frames could be compared; four frames are better.", m.Pairs)
	}
	if m.Clipped > 0.25 {
		limit(0.1, "%.0f %% of the picture is clipped; its ends tell nothing.", 100*m.Clipped)
	}
	if m.To-m.From < 0.2 {
		limit(0.15, "The picture has few tones, %.2f to %.2f; beyond them the card is a guess.", m.From, m.To)
	}
	if m.Blocks < 200 {
		limit(0.15, "Little of the picture is flat enough: %d parts of it were believed.", m.Blocks)
	}
	return t
}

// At is the deviation of the channels at a luminance; beyond its tones the card goes on as it ends.
func (c *Card) At(luminance float64) [3]float64 {
	last := len(c.Tones) - 1
	if last < 0 {
		return [3]float64{}
	}
	i, _ := slices.BinarySearch(c.Tones, luminance)
	if i == 0 {
		return c.Deviation[0]
	}
	if i > last {
		return c.Deviation[last]
	}
	t := (luminance - c.Tones[i-1]) / (c.Tones[i] - c.Tones[i-1])
	var out [3]float64
	for k := range out {
		out[k] = (1-t)*c.Deviation[i-1][k] + t*c.Deviation[i][k]
	}
	return out
}

// JSON is the card as a file.
func (c *Card) JSON() []byte {
	data, err := json.MarshalIndent(c, "", "  ")
	if err != nil { // it holds numbers and text alone
		panic("noise: " + err.Error())
	}
	return append(data, '\n')
}

// ParseCard reads a card; what is wrong with one is said.
func ParseCard(data []byte) (*Card, error) {
	c := &Card{}
	if err := strict.JSON(data, c); err != nil {
		return nil, fmt.Errorf("not a grain card: %w", err)
	}
	if err := c.check(); err != nil {
		return nil, fmt.Errorf("grain card %s: %w", c.ID, err)
	}
	return c, nil
}

func (c *Card) check() error {
	ok := func(v, lo, hi float64) bool { return v >= lo && v <= hi }
	switch {
	case c.Velours != CardVersion:
		return fmt.Errorf("version %d; this program reads %d", c.Velours, CardVersion)
	case c.ID == "" || len(c.ID) > 80 || strings.Trim(c.ID, "abcdefghijklmnopqrstuvwxyz0123456789-") != "":
		return errors.New("id is letters, figures and hyphens")
	case len(c.Label) > mostText || len(c.From) > mostText || len(c.Codes) > mostText:
		return fmt.Errorf("label, from and codes are at most %d bytes each", mostText)
	case c.Width < leastWidth || c.Width > 65536:
		return fmt.Errorf("a width of %d pixels; it goes from %d to 65536", c.Width, leastWidth)
	case len(c.Tones) < 1 || len(c.Tones) > 256 || len(c.Deviation) != len(c.Tones):
		return fmt.Errorf("%d tones and %d deviations; there are as many of each, 1 to 256", len(c.Tones), len(c.Deviation))
	case c.Hold < 1 || c.Hold > 1000:
		return fmt.Errorf("a hold of %d frames", c.Hold)
	}
	for i, y := range c.Tones {
		if !ok(y, -1, 4) || i > 0 && y <= c.Tones[i-1] {
			return errors.New("tones rise, from −1 to 4")
		}
		for _, d := range c.Deviation[i] {
			if !ok(d, 0, 1) {
				return fmt.Errorf("a deviation of %g; it goes from 0 to 1", d)
			}
		}
	}
	if len(c.Own) != 0 && len(c.Own) != 3 {
		return fmt.Errorf("own is of %d channels, not of 3", len(c.Own))
	}
	for _, o := range c.Own {
		if !ok(o.From, -1, 4) || !ok(o.To, o.From, 4) || len(o.Deviation) < 1 || len(o.Deviation) > 256 {
			return errors.New("own goes from a code to a higher one, from −1 to 4, by 1 to 256 deviations")
		}
		for _, d := range o.Deviation {
			if !ok(d, 0, 1) {
				return fmt.Errorf("a deviation of %g; it goes from 0 to 1", d)
			}
		}
	}
	for i := range 3 {
		if !ok(c.Correlation[i], -1.01, 1.01) || !ok(c.Spot[i], 0, 100) {
			return errors.New("correlations go from −1 to 1, spots from 0 to 100 pixels")
		}
		for _, list := range [][]float64{c.Across[i], c.Down[i]} {
			if len(list) < 1 || len(list) > 64 {
				return errors.New("across and down hold 1 to 64 correlations for each channel")
			}
			for _, r := range list {
				if !ok(r, -1.01, 1.01) {
					return errors.New("correlations go from −1 to 1")
				}
			}
		}
	}
	return nil
}
