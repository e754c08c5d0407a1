package lesson

import (
	"math"
	"reflect"
	"slices"
	"strings"
	"testing"
)

// Worked out apart from the code, from the formulas named at Learn. Student 1
// drew boxes of weight 1 in 2 and 8 minutes, student 2 one in 1 minute, student
// 3 none. Noise: (6 × 0.25 + 2 × 0.6931²) ÷ 7. Middle: the means 1.3863 and 0
// weighed by 1 ÷ (0.16 + noise ÷ boxes). Between: (6 × 0.16 + what the means lie
// off the middle beyond noise ÷ boxes) ÷ 8. Each is then drawn to the middle by
// 1 ÷ (between + between ÷ 2), of students of whom two drew.
func TestLearnOfTwo(t *testing.T) {
	c := Learn(map[uint64][]Worked{1: {{1, 2}, {1, 8}}, 2: {{1, 1}}, 3: nil}, nil)
	if !near(c.Noise, 0.351558, 1e-6) || !near(c.Middle, 0.836940, 1e-6) || !near(c.Between, 0.179365, 1e-6) {
		t.Errorf("noise %v, middle %v, between %v; want 0.351558, 0.836940, 0.179365", c.Noise, c.Middle, c.Between)
	}
	for id, want := range map[uint64]Pace{1: {1.169210, 0.106318, 2}, 2: {0.474106, 0.152409, 1}, 3: {0.836940, 0.269048, 0}} {
		if p := c.Students[id]; !near(p.Log, want.Log, 1e-6) || !near(p.LogVar, want.LogVar, 1e-6) || p.Boxes != want.Boxes {
			t.Errorf("student %d: %+v; want %+v", id, p, want)
		}
	}
	// Boxes of weight 1 and 3: the spread of a sum counts its squares, 10 of 16.
	if r := c.Forecast(c.Students[1], []float64{1, 3}); !near(r.Low, 6.46953, 1e-4) || !near(r.Middle, 13.65928, 1e-4) || !near(r.High, 28.83920, 1e-4) {
		t.Errorf("forecast %+v; want 6.46953, 13.65928, 28.83920", r)
	}
	// Of whom nothing is known, the middle itself is as unsure as 0.6².
	if p := Learn(map[uint64][]Worked{1: nil}, nil).Students[1]; !near(p.LogVar, 0.52, 1e-9) {
		t.Errorf("variance %v; want 0.16 + 0.36", p.LogVar)
	}
}

// Silence counts from three times one's own minutes a box, and from six at
// least; the longer the sooner, up to what a look is worth.
func TestSilence(t *testing.T) {
	for _, c := range []struct{ perBox, quiet, score float64 }{
		{1, 6, 0}, {1, 7, 41}, {1, 16, 50}, {1, 60, 59}, {4, 12, 0}, {4, 14, 42},
	} {
		need := FirstTo([]Seat{{ID: 1, PerBox: c.perBox, SinceTick: c.quiet, Prospect: Sure}})[0]
		if need.Score != c.score || (need.Reason != "") != (c.score > 0) {
			t.Errorf("%g min a box, quiet %g: %+v; want %g", c.perBox, c.quiet, need, c.score)
		}
	}
	if need := FirstTo([]Seat{{ID: 1, Hand: 4}})[0]; need.Score != 104 || need.Reason != "hand up 4 min" {
		t.Errorf("hand: %+v", need)
	}
}

// A calendar may be of one day and of 750; lessons come by day and by the
// clock, in whichever order they were written.
func TestCalendarAtItsEdges(t *testing.T) {
	day := []Weekly{{Weekday: 3, Start: 600, Minutes: 40}, {Weekday: 3, Start: 540, Minutes: 40}, {Weekday: 4, Start: 480, Minutes: 40}}
	one := Calendar{From: 0, Until: 0, Weekly: day} // a Thursday
	if l, err := one.Lessons(); err != nil || len(l) != 2 || l[0].Start != 540 || l[1].Start != 600 {
		t.Errorf("one day: %+v, %v", l, err)
	}
	two := Calendar{From: 0, Until: 1, Weekly: []Weekly{day[2], day[0]}}
	if l, err := two.Lessons(); err != nil || len(l) != 2 || l[0].Day != 0 || l[1].Day != 1 {
		t.Errorf("Thursday at ten and Friday at eight: %+v, %v", l, err)
	}
	if _, err := (Calendar{From: 0, Until: 750, Weekly: day}).Lessons(); err != nil {
		t.Errorf("750 days: %v", err)
	}
	if _, err := (Calendar{From: 0, Until: 751, Weekly: day}).Lessons(); err == nil {
		t.Error("751 days are taken")
	}
	for _, c := range []struct {
		weekly Weekly
		good   bool
	}{
		{Weekly{Weekday: 3, Start: 0, Minutes: 600}, true}, {Weekly{Weekday: 3, Start: 0, Minutes: 601}, false},
		{Weekly{Weekday: 3, Start: minutesADay - 60, Minutes: 60}, true},
		{Weekly{Weekday: 3, Start: minutesADay - 59, Minutes: 60}, false},
		{Weekly{Weekday: 3, Start: -1, Minutes: 60}, false}, {Weekly{Weekday: 3, Start: 0, Minutes: 1}, true}, {Weekly{Weekday: 3, Start: 0, Minutes: 0}, false},
	} {
		if _, err := (Calendar{Weekly: []Weekly{c.weekly}}).Lessons(); (err == nil) != c.good {
			t.Errorf("%+v: %v; good %v", c.weekly, err, c.good)
		}
	}
	full := Calendar{Weekly: []Weekly{{Weekday: 3, Start: 540, Minutes: 40}}, Setup: 25, Clear: 15}
	if _, err := full.Lessons(); err == nil || !strings.Contains(err.Error(), "take 40 of 40 minutes") {
		t.Errorf("all setting up: %v", err)
	}
}

// A stage ends in the lesson in which its last minute lies, also where that is
// the lesson's last, and what comes next begins with the next lesson.
func TestLayEnds(t *testing.T) {
	lessons := []Lesson{{Day: 0, Minutes: 40}, {Day: 1, Minutes: 40}}
	laid, over := Lay([]Stage{{Kind: Compose, Minutes: 40}, {Kind: Draw, Minutes: 60}}, lessons)
	want := [][]Part{{{Stage{Kind: Compose, Minutes: 40}, 40, true}}, {{Stage{Kind: Draw, Minutes: 60}, 40, false}}}
	for i := range want {
		if !reflect.DeepEqual(laid[i].Parts, want[i]) {
			t.Errorf("lesson %d: %+v; want %+v", i+1, laid[i].Parts, want[i])
		}
	}
	if over != 20 {
		t.Errorf("%g minutes over; want 20", over)
	}
}

// Work to take home is what is missing in steps of five minutes, five at least.
func TestMinutesHome(t *testing.T) {
	for _, c := range []struct{ middle, left, home float64 }{{52, 50, 5}, {55, 50, 5}, {56, 50, 10}, {61, 50, 15}, {50, 50, 0}} {
		h := NewRoad().HelpFor(Range{c.middle / 2, c.middle, 2 * c.middle}, c.left, 20)
		if got := slices.ContainsFunc(h.Ideas, func(s string) bool { return strings.HasPrefix(s, "Take ") }); got != (c.home > 0) {
			t.Errorf("%g in %g: %q", c.middle, c.left, h.Ideas)
		} else if got && !strings.HasPrefix(h.Ideas[1], "Take "+map[float64]string{5: "5", 10: "10", 15: "15"}[c.home]+" minutes") {
			t.Errorf("%g in %g: %s; want %g", c.middle, c.left, h.Ideas[1], c.home)
		}
	}
}

// A judgement turns just past the time that is left.
func TestJudgeAtItsEdges(t *testing.T) {
	for _, c := range []struct {
		left float64
		want Prospect
	}{{49.9, WillNot}, {50, MayNot}, {59.9, MayNot}, {60, Likely}, {79.9, Likely}, {80, Sure}, {80/0.65 + 0.1, Early}} {
		if got := Judge(Range{50, 60, 80}, c.left); got != c.want {
			t.Errorf("50, 60, 80 in %g: %s; want %s", c.left, got, c.want)
		}
	}
}

// A lesson has begun at its first minute, and a box ticked at the beginning of
// the next lesson counts for that one.
func TestBurnDownAtItsEdges(t *testing.T) {
	lessons := []Span{{0, 50}, {100, 150}, {200, 250}}
	if got := BurnDown([]float64{100}, lessons, 5, 200); !slices.Equal(got, []int{5, 5, 4, 4}) {
		t.Errorf("left %v; want 5, 5, 4, 4", got)
	}
	if got := BurnDown([]float64{300}, lessons, 5, 300); !slices.Equal(got, []int{5, 5, 5, 4}) {
		t.Errorf("after the last lesson %v; want 5, 5, 5, 4", got)
	}
}

// Where the last stage waits nothing opens after it.
func TestRoadAtItsEnd(t *testing.T) {
	r := NewRoad()
	last := len(r.Stages) - 1
	r.Stages[last].Checkpoint = "Shown to a friend."
	done, passed := map[StageID]bool{}, map[StageID]Verdict{}
	for _, s := range r.Stages {
		done[s.ID] = true
		if s.Kind != Reflect {
			passed[s.ID] = Passed
		}
	}
	if p := r.Where(done, passed); !p.Waiting || p.Closed != "" || p.Stage.Kind != Reflect {
		t.Errorf("the last stage waits: %+v", p)
	}
	delete(passed, StageID(Tone))
	r.Stages[last-1].Checkpoint = "Darks are dark."
	if p := r.Where(done, passed); p.Closed != "“Look again” opens when this was looked at: Darks are dark" {
		t.Errorf("the last but one waits: %q", p.Closed)
	}
	r = NewRoad()
	r.Stages[3].Minutes = longestStage
	if _, err := r.Check(); err != nil {
		t.Errorf("the longest stage: %v", err)
	}
	r.Stages[3].Checkpoint = strings.Repeat("é", 120)
	if _, err := r.Check(); err != nil {
		t.Errorf("120 letters: %v", err)
	}
}

// Ticks at both ends of a lesson are of it; a gap of thirty minutes at home is
// work and a longer one a break; half a minute apart is not together; the first
// tick after a lesson's beginning is reckoned from it though others came before.
func TestWorkAtItsEdges(t *testing.T) {
	minutes := func(spans []Span, at ...float64) (m []float64) {
		var ticks []Ticked
		for _, a := range at {
			ticks = append(ticks, Ticked{a, 1})
		}
		for _, w := range WorkOf(ticks, spans) {
			m = append(m, math.Round(w.Minutes*1000)/1000)
		}
		return m
	}
	lesson := []Span{{10, 50}}
	for _, c := range []struct {
		name     string
		spans    []Span
		at, want []float64
	}{
		{"the last minute", lesson, []float64{50}, []float64{40}},
		{"after the last", lesson, []float64{51}, nil},
		{"the first minute, with one before", lesson, []float64{5, 10, 14}, []float64{4}},
		{"begun before the lesson", lesson, []float64{5, 14}, []float64{4}},
		{"thirty minutes at home", nil, []float64{100, 130}, []float64{30}},
		{"a longer break", nil, []float64{100, 130.5}, nil},
		{"half a minute apart", nil, []float64{100, 104, 104.5}, []float64{4, 0.5}},
		{"less", nil, []float64{100, 104, 104.25}, []float64{2, 2}},
	} {
		if got := minutes(c.spans, c.at...); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v; want %v", c.name, got, c.want)
		}
	}
}

// A half, a quarter: bare boxes weigh four tenths, the rest by their share.
func TestWeightsByHand(t *testing.T) {
	if got := Weights([]float64{0.5, 0.5, 0, 0}, 4); !near(got[0], 1.6, 1e-9) || !near(got[3], 0.4, 1e-9) {
		t.Errorf("%v; want 1.6 and 0.4", got)
	}
}

// Who has drawn a box has gone what comes before drawing; what was marked last
// may be taken back.
func TestWhatDrawingImplies(t *testing.T) {
	r := NewRoad()
	r.Begins = StageID(Pick)
	marked := map[StageID]bool{StageID(Pick): true}
	if got := r.Implied(marked, false); len(got) != 1 {
		t.Errorf("nothing drawn implies %v", got)
	}
	done := r.Implied(nil, true)
	if !done[StageID(Pick)] || !done[StageID(Compose)] || !done[StageID(MarkUp)] || done[StageID(Draw)] || len(marked) != 1 {
		t.Errorf("a box implies %v", done)
	}
	if p := r.Where(done, map[StageID]Verdict{StageID(MarkUp): Passed}); p.Stage.Kind != Draw {
		t.Errorf("who draws is at %s", p.Stage.Kind)
	}
	if last, ok := r.LastDone(map[StageID]bool{StageID(Pick): true, StageID(MarkUp): true}); !ok || last.Kind != MarkUp {
		t.Errorf("last done %v, %v", last.Kind, ok)
	}
	if _, ok := r.LastDone(nil); ok {
		t.Error("nothing was done, and something may be taken back")
	}
}

// Nothing is foretold from nothing: five boxes of one's own or fifteen of the
// class, in a time that is known.
func TestEvidence(t *testing.T) {
	boxes := func(n int) (w []Worked) {
		for range n {
			w = append(w, Worked{1, 3})
		}
		return w
	}
	c := Learn(map[uint64][]Worked{1: boxes(5), 2: boxes(4), 3: nil}, nil)
	if a, b, none := c.Evidence(c.Students[1]), c.Evidence(c.Students[2]), c.Evidence(c.Students[3]); a != 0 || b != 6 || none != 6 || c.Timed != 9 {
		t.Errorf("waits for %d, %d, %d of %d timed; want 0, 6, 6 of 9", a, b, none, c.Timed)
	}
	c = Learn(map[uint64][]Worked{1: boxes(15), 3: nil}, nil)
	if n := c.Evidence(c.Students[3]); n != 0 {
		t.Errorf("fifteen of the class: waits for %d", n)
	}
	if h := NewRoad().Wait(6); h.Prospect != Untold || !strings.Contains(h.Why, "about 6 more") {
		t.Errorf("%+v", h)
	}
}
