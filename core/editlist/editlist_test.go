package editlist

import (
	"reflect"
	"strings"
	"testing"
)

// programme is a CMX 3600 list as editing programs write it: a cut, a dissolve in two lines, a change of speed, a frame that stands, sound, a key, what is wrong.
const programme = `TITLE: The night market
FCM: NON-DROP FRAME

001  TAPE01   V     C        01:00:10:00 01:00:14:00 10:00:00:00 10:00:04:00
* FROM CLIP NAME: LAMPS_A.MOV
* SOURCE FILE: /cards/one/lamps_a.mov
002  TAPE01   V     C        01:00:14:00 01:00:14:00 10:00:04:00 10:00:04:00
002  TAPE02   V     D    024 02:00:00:00 02:00:03:00 10:00:04:00 10:00:07:00
* FROM CLIP NAME: LAMPS_A.MOV
* TO CLIP NAME: STALLS.MOV
003  TAPE03   V     C        00:00:02:00 00:00:04:00 10:00:07:00 10:00:11:00
M2   TAPE03       012.0                00:00:02:00
* FROM CLIP NAME: SNOW.MOV
004  TAPE04   AA/V  C        00:00:01:00 00:00:01:00 10:00:11:00 10:00:12:00
M2   TAPE04       000.0                00:00:01:00
005  TAPE04   A     C        00:00:01:00 00:00:02:00 10:00:12:00 10:00:13:00
006  TAPE05   V     W001 012 00:00:01:00 00:00:02:00 10:00:12:00 10:00:13:00
007  TAPE05   V     K B      00:00:01:00 00:00:02:00 10:00:13:00 10:00:14:00
008  TAPE05   V     C        00:00:01:00 00:00:02:00 10:00:14:00 10:00:16:00
009  TAPE05   V     C        00:00:01:99 00:00:02:00 10:00:16:00 10:00:17:00
010  BL       V     C        00:00:00:00 00:00:01:00 10:00:17:00 10:00:18:00
011  TAPE05   V     C        00:00:03:00 00:00:04:00 10:00:19:00 10:00:18:00
012  TAPE05
`

func TestCMX(t *testing.T) {
	l, err := ReadCMX([]byte(programme), Rate{24, 1})
	if err != nil {
		t.Fatal(err)
	}
	const ten = 10 * 3600 * 24
	want := []Event{
		{"001", "TAPE01", "LAMPS_A.MOV", "/cards/one/lamps_a.mov", Span{86640, 86736}, Span{ten, ten + 96}, 1, Transition{}},
		{"002", "TAPE02", "STALLS.MOV", "", Span{172800, 172872}, Span{ten + 96, ten + 168}, 1, Transition{"dissolve", 24}},
		{"003", "TAPE03", "SNOW.MOV", "", Span{48, 96}, Span{ten + 168, ten + 264}, 0.5, Transition{}},
		{"004", "TAPE04", "", "", Span{24, 24}, Span{ten + 264, ten + 288}, 0, Transition{}},
		{"006", "TAPE05", "", "", Span{24, 48}, Span{ten + 288, ten + 312}, 1, Transition{"wipe", 12}},
		{"008", "TAPE05", "", "", Span{24, 48}, Span{ten + 336, ten + 384}, 0.5, Transition{}},
	}
	if l.Title != "The night market" || !reflect.DeepEqual(l.Events, want) {
		t.Errorf("%q\n got %+v\nwant %+v", l.Title, l.Events, want)
	}
	told := strings.Join(l.Told, "\n")
	for _, part := range []string{"event 007 is laid over another", "event 008 takes 24 frames of its recording for 48", `"00:00:01:99" is no time code`, "event 011 ends before it begins", "four time codes"} {
		if !strings.Contains(told, part) {
			t.Errorf("it does not tell %q:\n%s", part, told)
		}
	}
	if len(l.Told) != 5 {
		t.Errorf("it tells %d things:\n%s", len(l.Told), told)
	}
	for _, text := range []string{"", "TITLE: x\n", "a letter to nobody", strings.Repeat("x", 1<<17)} {
		if _, err := ReadCMX([]byte(text), Rate{24, 1}); err == nil {
			t.Errorf("%.20q is taken for a list", text)
		}
	}
}

// timeline is what OpenTimelineIO writes for two clips with a dissolve between, a gap, a clip that goes backwards at half the speed, and a nested stack.
const timeline = `{"OTIO_SCHEMA":"Timeline.1","name":"The night market","global_start_time":{"OTIO_SCHEMA":"RationalTime.1","value":86400,"rate":24},
"tracks":{"OTIO_SCHEMA":"Stack.1","name":"tracks","children":[
 {"OTIO_SCHEMA":"Track.1","kind":"Audio","children":[{"OTIO_SCHEMA":"Clip.2","name":"wind"}]},
 {"OTIO_SCHEMA":"Track.1","kind":"Video","children":[
  {"OTIO_SCHEMA":"Clip.2","name":"lamps","source_range":{"start_time":{"value":86640,"rate":24},"duration":{"value":96,"rate":24}},
   "active_media_reference_key":"DEFAULT_MEDIA","media_references":{"DEFAULT_MEDIA":{"OTIO_SCHEMA":"ExternalReference.1","name":"TAPE01","target_url":"file:///cards/one/lamps%20a.mov"}}},
  {"OTIO_SCHEMA":"Transition.1","transition_type":"SMPTE_Dissolve","in_offset":{"value":10,"rate":24},"out_offset":{"value":14,"rate":24}},
  {"OTIO_SCHEMA":"Clip.1","name":"stalls","media_reference":{"OTIO_SCHEMA":"ExternalReference.1","target_url":"stalls.mov","available_range":{"start_time":{"value":0,"rate":25},"duration":{"value":75,"rate":25}}}},
  {"OTIO_SCHEMA":"Gap.1","source_range":{"start_time":{"value":0,"rate":24},"duration":{"value":48,"rate":24}}},
  {"OTIO_SCHEMA":"Clip.2","name":"snow","source_range":{"start_time":{"value":48,"rate":24},"duration":{"value":24,"rate":24}},"effects":[{"OTIO_SCHEMA":"LinearTimeWarp.1","time_scalar":-0.5}]},
  {"OTIO_SCHEMA":"Stack.1","name":"titles","source_range":{"start_time":{"value":0,"rate":24},"duration":{"value":24,"rate":24}}},
  {"OTIO_SCHEMA":"Clip.2","name":"nothing"},
  {"OTIO_SCHEMA":"Clip.2","name":"still","source_range":{"start_time":{"value":12,"rate":24},"duration":{"value":24,"rate":24}},"effects":[{"OTIO_SCHEMA":"FreezeFrame.1","time_scalar":0}]}
 ]}]}}`

func TestOTIO(t *testing.T) {
	l, err := ReadOTIO([]byte(timeline))
	if err != nil {
		t.Fatal(err)
	}
	const hour = 86400
	want := []Event{
		{"1", "TAPE01", "lamps", "/cards/one/lamps a.mov", Span{86640, 86736}, Span{hour, hour + 96}, 1, Transition{}},
		{"2", "", "stalls", "stalls.mov", Span{0, 72}, Span{hour + 96, hour + 168}, 1, Transition{"dissolve", 24}},
		{"3", "", "snow", "", Span{48, 60}, Span{hour + 216, hour + 240}, -0.5, Transition{}},
		{"4", "", "still", "", Span{12, 12}, Span{hour + 264, hour + 288}, 0, Transition{}},
	}
	if l.Title != "The night market" || l.Rate != (Rate{24, 1}) || !reflect.DeepEqual(l.Events, want) {
		t.Errorf("%q %v\n got %+v\nwant %+v", l.Title, l.Rate, l.Events, want)
	}
	if told := strings.Join(l.Told, "\n"); len(l.Told) != 2 || !strings.Contains(told, `"titles" is nested`) || !strings.Contains(told, `"nothing" does not say how long`) {
		t.Errorf("it tells %s", told)
	}
	for _, text := range []string{"", "{}", "[]", `{"OTIO_SCHEMA":"Timeline.1"}`, `{"OTIO_SCHEMA":"Stack.1","children":[]}`,
		strings.Replace(timeline, `"value":96,"rate":24`, `"value":96,"rate":0`, 1), strings.Replace(timeline, `"value":96,`, `"value":-96,`, 1), strings.Replace(timeline, `"value":48,"rate":24}}},`, `"value":1e300,"rate":24}}},`, 1)} {
		if l, err := ReadOTIO([]byte(text)); err == nil {
			t.Errorf("%.60q is taken for %+v", text, l.Events)
		}
	}
}

// Events find their files by name, clip or tape, and by time code among those; what is missing is told.
func TestFind(t *testing.T) {
	film := Rate{24, 1}
	files := []File{
		{Path: "day/LAMPS_A.mov", Start: 86400, Known: true, Frames: 240, Rate: film},
		{Path: "night/lamps_a.mov", Start: 90000, Known: true, Frames: 240, Rate: film},
		{Path: "stalls.mov", Frames: 100, Rate: film},
		{Path: "snow.mov", Start: 0, Known: true, Frames: 100, Rate: Rate{25, 1}},
	}
	l := &List{Rate: film, Events: []Event{
		{Number: "1", File: `C:\cards\lamps_a.mov`, Source: Span{90010, 90034}},
		{Number: "2", Name: "Lamps_A", Source: Span{86405, 86420}},
		{Number: "3", Tape: "STALLS", Source: Span{10, 30}},
		{Number: "4", Name: "stalls.mov", Source: Span{172800, 172850}},
		{Number: "5", Name: "lamps_a.mov", Source: Span{100, 124}},
		{Number: "6", Name: "rain.mov", Tape: "T9", Source: Span{0, 24}},
		{Number: "7", Name: "snow", Source: Span{0, 24}},
		{Number: "8", Source: Span{0, 24}},
		{Number: "9", Name: "stalls", Source: Span{99, 99}},
	}}
	want := []Found{
		{1, Span{10, 34}, Span{2, 42}, ""},
		{0, Span{5, 20}, Span{0, 28}, ""},
		{2, Span{10, 30}, Span{2, 38}, ""},
		{2, Span{0, 50}, Span{0, 58}, "event 4: stalls.mov has no time code; it begins at its first frame"},
		{-1, Span{}, Span{}, "event 5 wants 00:00:04:04 to 00:00:05:04, and lamps_a.mov has 01:02:30:00 to 01:02:40:00"},
		{-1, Span{}, Span{}, "event 6: no file is called rain.mov or T9"},
		{-1, Span{}, Span{}, "event 7: snow.mov has 25 frames a second, the list 24"},
		{-1, Span{}, Span{}, "event 8 names no recording"},
		{2, Span{99, 100}, Span{91, 100}, ""},
	}
	for i, got := range l.Find(files, 8) {
		if got != want[i] {
			t.Errorf("event %s: %+v, not %+v", l.Events[i].Number, got, want[i])
		}
	}
}

// Whatever comes, events are in order and inside what can be, and every one found lies inside its file.
func sound(t *testing.T, l *List) {
	t.Helper()
	if len(l.Events) == 0 || len(l.Events) > mostEvents || l.Rate.Nominal() < 1 {
		t.Fatalf("%d events at %v", len(l.Events), l.Rate)
	}
	for _, e := range l.Events {
		if e.Record.Frames() <= 0 || e.Source.Frames() < 0 {
			t.Fatalf("%+v", e)
		}
	}
	files := []File{{Path: "a.mov", Frames: 100, Rate: l.Rate}, {Path: l.Events[0].Name, Start: l.Events[0].Source.In, Known: true, Frames: 50}}
	for _, f := range l.Find(files, 5) {
		if f.File >= 0 && (f.Seen.In < f.With.In || f.Seen.Out > f.With.Out || f.With.In < 0 || f.With.Out > files[f.File].Frames || f.Seen.Frames() < 1) {
			t.Fatalf("%+v", f)
		}
	}
}

func FuzzCMX(f *testing.F) {
	f.Add([]byte(programme), 24)
	f.Add([]byte("FCM: DROP FRAME\n1 A V C 00:00:00;02 00:00:01;00 1:0:0;0 1:0:1;0\nM2 A -60 0:0:0;0\n"), 30)
	f.Fuzz(func(t *testing.T, data []byte, fps int) {
		if l, err := ReadCMX(data, Rate{fps, 1}); err == nil {
			sound(t, l)
		}
	})
}

func FuzzOTIO(f *testing.F) {
	f.Add([]byte(timeline))
	f.Add([]byte(`{"OTIO_SCHEMA":"SerializableCollection.1","children":[{"OTIO_SCHEMA":"Timeline.1","tracks":{"OTIO_SCHEMA":"Stack.1","children":[{"OTIO_SCHEMA":"Track.1","children":[{"OTIO_SCHEMA":"Clip.1","source_range":{"start_time":{"value":-5,"rate":23.976},"duration":{"value":0.4,"rate":1}}}]}]}}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		if l, err := ReadOTIO(data); err == nil {
			sound(t, l)
		}
	})
}
