package measure

import (
	"context"
	"fmt"
	"math"
	"strings"

	"velours/core/cache"
	"velours/core/film"
	"velours/core/look"
)

// Claimed is the figure that a claim is about, as it is measured.
func Claimed(ctx context.Context, s *film.Stock, c film.Claim) (float64, error) {
	switch c.Of {
	case "shadows", "whites", "scale":
		g := SignatureOf(s)
		grey := g.Shadows
		if c.Of == "whites" {
			grey = g.Whites
		}
		switch {
		case c.Of == "scale" && c.Figure == "slope":
			return g.Gamma, nil
		case c.Of != "scale" && c.Figure == "a":
			return grey[0], nil
		case c.Of != "scale" && c.Figure == "b":
			return grey[1], nil
		}
	case "grain":
		if c.Figure == "granularity" {
			return 100 * (s.Granularity/film.Reference().Granularity - 1), nil
		}
	case "detail":
		switch {
		case c.Figure == "transfer":
			return 100 * (s.MTF.Half()/film.Reference().MTF.Half() - 1), nil
		case c.Figure == "red" && !s.Mono:
			return 100 * (s.Drawn(0).Half()/s.Drawn(1).Half() - 1), nil
		}
	case "halo":
		return claimedHalo(ctx, s, c.Figure)
	default:
		g := SignatureOf(s)
		if t, ok := g.Groups[c.Of]; ok {
			switch c.Figure {
			case "hue":
				return t.Hue, nil
			case "chroma":
				return t.Chroma - 100, nil
			case "lightness":
				return t.Lightness, nil
			}
		}
		if r, ok := g.Response[c.Of]; ok && c.Figure == "response" {
			return r, nil
		}
	}
	return 0, fmt.Errorf("%s of %s is no figure of %s", c.Figure, c.Of, s.ID)
}

var halos = cache.Results[SpreadHalo]{Size: 96}

// haloOf is the light that returns from the base of a new film.
func haloOf(ctx context.Context, s *film.Stock) (SpreadHalo, error) {
	return halos.Get(s.Key(), func() (SpreadHalo, error) {
		l := look.NewLook("claim")
		if err := l.SetAll("negative.stock.id="+s.ID, "negative.halation.backing=100"); err != nil {
			return SpreadHalo{}, err
		}
		m, err := MeasureSpread(ctx, l, 480, 8, nil)
		if err != nil {
			return SpreadHalo{}, err
		}
		return m.Halo, nil
	})
}

// claimedHalo is a halo against the reference's.
func claimedHalo(ctx context.Context, s *film.Stock, figure string) (float64, error) {
	if figure != "share" && (figure != "hue" || s.Mono) {
		return 0, fmt.Errorf("%s of the halo is no figure of %s", figure, s.ID)
	}
	was, err := haloOf(ctx, film.Reference())
	if err != nil {
		return 0, err
	}
	is, err := haloOf(ctx, s)
	if err != nil {
		return 0, err
	}
	if figure == "hue" {
		return math.Remainder(is.Hue-was.Hue, 360), nil
	}
	return math.Log2(is.Share() / was.Share()), nil
}

// Check measures a claim; an error says what is measured in its place.
func Check(ctx context.Context, s *film.Stock, c film.Claim) error {
	v, err := Claimed(ctx, s, c)
	if err != nil {
		return err
	}
	if math.Abs(v-c.Value) > c.Within {
		return fmt.Errorf("%s claims %s of %s %+.2f within %.2f; it is %+.2f", s.ID, c.Figure, c.Of, c.Value, c.Within, v)
	}
	return nil
}

// Turned is the claim of the opposite: one that a stock cannot keep beside the claim itself.
func Turned(c film.Claim) film.Claim {
	if math.Abs(c.Value) > c.Within {
		c.Value = -c.Value
	} else {
		c.Value += 3 * c.Within
	}
	return c
}

// towards are the words for a hue that turns back and on, group by group.
var towards = map[string][2]string{
	"skin": {"pinker", "more golden"}, "foliage": {"yellower", "bluer"}, "sky": {"towards cyan", "towards violet"}, "red": {"towards crimson", "towards orange"},
	"orange": {"redder", "yellower"}, "yellow": {"towards orange", "towards green"}, "green": {"yellower", "bluer"}, "cyan": {"greener", "bluer"},
	"blue": {"towards cyan", "towards violet"}, "purple": {"bluer", "redder"}, "halo": {"redder", "more orange"},
}

var plural = map[string]string{"foliage": "leaves", "sky": "skies", "red": "reds", "orange": "oranges", "yellow": "yellows", "green": "greens", "cyan": "cyans", "blue": "blues", "purple": "purples"}

// Words are a claim in plain words.
func Words(c film.Claim) string {
	of := c.Of
	if p := plural[of]; p != "" {
		of = p
	}
	size := math.Abs(c.Value)
	side := func(less, more string) string {
		if c.Value < 0 {
			return less
		}
		return more
	}
	if size <= c.Within {
		return fmt.Sprintf("%s of %s as the reference has it", c.Figure, of)
	}
	switch c.Figure {
	case "hue":
		return fmt.Sprintf("%s %.0f° %s", of, size, side(towards[c.Of][0], towards[c.Of][1]))
	case "chroma":
		return fmt.Sprintf("%s %.0f %% %s", of, size, side("paler", "fuller"))
	case "lightness":
		return fmt.Sprintf("%s %.1f L* %s", of, size, side("darker", "lighter"))
	case "response":
		return fmt.Sprintf("%s %.1f stops %s", of, size, side("darker", "lighter"))
	case "a":
		return fmt.Sprintf("%s %s (a* %+.1f)", of, side("green", "rose"), c.Value)
	case "b":
		return fmt.Sprintf("%s %s (b* %+.1f)", of, side("blue", "yellow"), c.Value)
	case "slope":
		return fmt.Sprintf("%.0f %% %s contrast", size, side("less", "more"))
	case "granularity":
		return fmt.Sprintf("%.0f %% %s grain", size, side("less", "more"))
	case "transfer":
		return fmt.Sprintf("%s fine detail, by %.0f %%", side("less", "more"), size)
	case "red":
		return fmt.Sprintf("reds drawn %.0f %% %s than greens", size, side("softer", "crisper"))
	case "share":
		return fmt.Sprintf("%.1f stops %s light returned from the base", size, side("less", "more"))
	}
	return strings.Join([]string{c.Figure, of}, " of ")
}
