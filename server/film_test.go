package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"

	"velours/core/film"
	"velours/core/look"
	"velours/studio"
)

// request sends a request and reads the answer, which it checks the status of.
func httpCall(t *testing.T, method, url string, body any, want int, into any) string {
	t.Helper()
	var data []byte
	if body != nil {
		var err error
		if data, err = json.Marshal(body); err != nil {
			t.Fatal(err)
		}
	}
	q, err := http.NewRequest(method, url, bytes.NewReader(data))
	if err != nil {
		t.Fatal(err)
	}
	q.Header.Set("Content-Type", "application/json")
	r, err := http.DefaultClient.Do(q)
	if err != nil {
		t.Fatal(err)
	}
	defer r.Body.Close()
	got, err := io.ReadAll(r.Body)
	if err != nil {
		t.Fatal(err)
	}
	if r.StatusCode != want {
		t.Fatalf("%s %s: %d, want %d: %s", method, url, r.StatusCode, want, got)
	}
	if into != nil {
		if err := json.Unmarshal(got, into); err != nil {
			t.Fatal(err)
		}
	}
	return string(got)
}

// The film through the API: read, drawn, compared; a stock measured, kept, used, in the way of its removal, and removed.
func TestFilmByTheAPI(t *testing.T) {
	srv := serve(t)
	api := srv.URL + "/api/v1"
	var page ReelPage
	httpCall(t, "GET", api+"/reels", nil, 200, &page)
	var reel Reel
	httpCall(t, "GET", fmt.Sprintf("%s/reels/%d", api, page.Reels[slices.IndexFunc(page.Reels, func(r ReelHead) bool { return r.Demo })].ID), nil, 200, &reel)
	shots := reel.Shots
	shot := fmt.Sprintf("%s/shots/%d", api, shots[0].ID)

	var r studio.FilmReading
	httpCall(t, "GET", shot+"/film?with=mine-50&x=0.4&y=0.5", nil, 200, &r)
	if r.Film == nil || r.Other == nil || r.Other.Stock != "Mine 50" || r.Film.Pixel == nil || len(r.Figures) < 5 || len(r.Light.Count[3]) == 0 || len(r.Plots) != 5 {
		t.Errorf("the film reads %+v", r.Figures)
	}
	if svg := httpCall(t, "GET", shot+"/film.svg?dark=1", nil, 200, nil); !strings.HasPrefix(svg, "<svg") {
		t.Errorf("the drawing begins %.40q", svg)
	}
	if svg := httpCall(t, "GET", api+"/stocks/tulle-400/character.svg?dark=1", nil, 200, nil); !strings.HasPrefix(svg, "<svg") {
		t.Errorf("a stock's drawing begins %.40q", svg)
	}
	if text := httpCall(t, "GET", api+"/stocks/nix/character.svg", nil, 422, nil); !strings.Contains(text, "tulle-400") {
		t.Errorf("a stock that is not there: %s", text)
	}
	if csv := httpCall(t, "GET", shot+"/film.csv?with=mine-50", nil, 200, nil); !strings.HasPrefix(csv, "stops,log exposure,") {
		t.Errorf("the table begins %.40q", csv)
	}
	for query, why := range map[string]string{"with=nix": "no option", "x=a&y=1": "not a number", "x=2&y=0": "0 to 1", "frame=z": "not a number"} {
		if text := httpCall(t, "GET", shot+"/film?"+query, nil, 422, nil); !strings.Contains(text, why) {
			t.Errorf("%s: %s", query, text)
		}
	}

	n := film.Develop(film.Stocks()[1], film.Process{Strength: 1})
	wedge := "log exposure,red,green,blue\n"
	for x := -2.4; x < 1.6; x += 0.2 {
		d := n.Read(n.Grey(x))
		wedge += fmt.Sprintf("%.2f,%.3f,%.3f,%.3f\n", x, d[0], d[1], d[2])
	}
	var made studio.Fitted
	httpCall(t, "POST", api+"/library/measure", studio.FilmAsk{FitAsk: studio.FitAsk{Name: "Lagune again"}, Status: "scan", Wedges: []studio.WedgeText{{File: "a.csv", Text: wedge}}}, 200, &made)
	if text := httpCall(t, "POST", api+"/library/measure", studio.FilmAsk{FitAsk: studio.FitAsk{Name: "x"}, Wedges: []studio.WedgeText{{File: "a.csv", Text: "a,b"}}}, 422, nil); !strings.Contains(text, "a.csv") {
		t.Errorf("a bad wedge says %s", text)
	}
	var own Kept
	httpCall(t, "POST", api+"/library/stocks", CardAsk{made.Card}, 200, &own)
	if own.Kind != "stock" || own.Name != "Lagune again" {
		t.Errorf("kept is %+v", own)
	}
	if text := httpCall(t, "POST", api+"/library/stocks", CardAsk{json.RawMessage(`{"velours":1}`)}, 422, nil); !strings.Contains(text, "is empty") {
		t.Errorf("a bad card says %s", text)
	}
	file := httpCall(t, "GET", fmt.Sprintf("%s/library/%d/file", api, own.ID), nil, 200, nil)
	if s, err := film.ParseStock([]byte(file)); err != nil || s.ID != own.Key {
		t.Errorf("its file: %v", err)
	}
	set := look.Edit{Op: "set", Station: "negative", Kind: "stock", Setting: "id", Value: own.Key}
	httpCall(t, "POST", shot+"/edits", set, 200, nil)
	if text := httpCall(t, "DELETE", fmt.Sprintf("%s/library/%d", api, own.ID), nil, 422, nil); !strings.Contains(text, "is used by") {
		t.Errorf("a stock in use says %s", text)
	}
	set.Value = "aubade-250d"
	httpCall(t, "POST", shot+"/edits", set, 200, nil)

	// taken out, it is no longer offered, and undo still reaches back to it
	httpCall(t, "DELETE", fmt.Sprintf("%s/library/%d", api, own.ID), nil, 204, nil)
	var list AssetList
	httpCall(t, "GET", api+"/library", nil, 200, &list)
	if len(list.Kept) != 0 {
		t.Errorf("the library holds %+v", list.Kept)
	}
	httpCall(t, "POST", shot+"/undo", nil, 200, nil)
	httpCall(t, "GET", shot+"/film", nil, 200, &r)
	if r.Film.Stock != "Lagune again" {
		t.Errorf("after undo the film is %s", r.Film.Stock)
	}
	httpCall(t, "POST", shot+"/redo", nil, 200, nil)
	httpCall(t, "POST", api+"/library/stocks", CardAsk{made.Card}, 200, &own) // and it can come back
	httpCall(t, "GET", api+"/library", nil, 200, &list)
	if len(list.Kept) != 1 {
		t.Errorf("the library holds %+v", list.Kept)
	}

	if text := httpCall(t, "POST", api+"/library/measure", studio.FilmAsk{FitAsk: studio.FitAsk{Name: "x"}, Pictures: []studio.FilmPicture{{Shows: studio.ShowsChart, Digital: shots[0].ID, Film: shots[1].ID}}}, 422, nil); !strings.Contains(text, "no chart was found") && !strings.Contains(text, "patches") {
		t.Errorf("a pair without a chart says %s", text)
	}

	var desk Desk
	httpCall(t, "PUT", api+"/favourites", Favourite{"stock:aubade-250d", true}, 204, nil)
	httpCall(t, "PUT", api+"/favourites", Favourite{"recipe:noon", true}, 204, nil)
	httpCall(t, "PUT", api+"/favourites", Favourite{"recipe:noon", false}, 204, nil)
	httpCall(t, "PUT", api+"/favourites", Favourite{"anything", true}, 422, nil)
	httpCall(t, "GET", api+"/desk", nil, 200, &desk)
	if len(desk.Favourites) != 1 || desk.Favourites[0] != "stock:aubade-250d" {
		t.Errorf("kept in reach are %v", desk.Favourites)
	}
	var recipes []ReadyFilm
	httpCall(t, "GET", api+"/recipes", nil, 200, &recipes)
	if len(recipes) < 24 || len(recipes[0].Look) == 0 {
		t.Errorf("%d recipes", len(recipes))
	}
	for _, name := range []string{"stock", "medium"} {
		var schema map[string]any
		httpCall(t, "GET", api+"/"+name+".schema.json", nil, 200, &schema)
		if schema["properties"] == nil {
			t.Errorf("the schema of a %s is %v", name, schema)
		}
	}
}
