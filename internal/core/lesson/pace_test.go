package lesson

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

func near(a, b, by float64) bool { return math.Abs(a-b) <= by }

// Worked by hand. One student, boxes of weight 1 in 2 and 8 minutes: their
// logarithms are 0.693 and 2.079, mean 1.386. Noise is pooled with the belief
// of 0.25 on six: (1.5 + 2 × 0.693²) ÷ 7 = 0.3516. The middle is the mean
// itself; between is 0.16, unsure 0.16 of one student, so the prior and the mean
// agree and the pace is e^1.386 = 4 minutes.
func TestLearnByHand(t *testing.T) {
	c := Learn(map[uint64][]Worked{1: {{1, 2}, {1, 8}}}, nil)
	p := c.Students[1]
	if !near(c.Noise, 0.3516, 1e-4) || !near(p.PerBox(), 4, 1e-9) || p.Boxes != 2 {
		t.Errorf("noise %v, %v minutes a box; want 0.3516 and 4", c.Noise, p.PerBox())
	}
	// Ten boxes of weight 1: 10 × 4 × e^(0.3516/2) = 47.7 on average, the median a little less.
	w := make([]float64, 10)
	for i := range w {
		w[i] = 1
	}
	r := c.Forecast(p, w)
	spread := math.Log1p((math.Exp(0.35160) - 1) / 10)
	if want := 40 * math.Exp(0.35160/2-spread/2); !near(r.Middle, want, 0.02) || !(r.Low < r.Middle && r.Middle < r.High) {
		t.Errorf("forecast %+v; want %.2f in the middle", r, want)
	}
	if none := c.Forecast(p, nil); none != (Range{}) {
		t.Errorf("nothing to draw takes %+v", none)
	}
}

// Nobody has drawn yet: three minutes a box, and a wide range. One box each
// draws nobody far from the others.
func TestLearnFromLittle(t *testing.T) {
	c := Learn(map[uint64][]Worked{1: nil, 2: nil}, nil)
	if p := c.Students[1]; !near(p.PerBox(), usualMinutes, 1e-9) || p.LogVar < usualBetween {
		t.Errorf("an unknown student draws a box in %v minutes, variance %v", p.PerBox(), p.LogVar)
	}
	c = Learn(map[uint64][]Worked{1: {{1, 1}}, 2: {{1, 9}}, 3: {{0, 5}, {1, -2}}}, nil)
	if one, two := c.Students[1].PerBox(), c.Students[2].PerBox(); !(one > 1 && one < two && two < 9) {
		t.Errorf("after one box each: %v and %v minutes; want both drawn together", one, two)
	}
}

// What the teacher knows counts while nothing is measured, and fades as boxes are.
func TestKnownPace(t *testing.T) {
	known := map[uint64]float64{1: SlowFactor}
	c := Learn(map[uint64][]Worked{1: nil, 2: nil}, known)
	if slow, usual := c.Students[1].PerBox(), c.Students[2].PerBox(); !near(slow/usual, SlowFactor, 1e-9) {
		t.Errorf("slow takes %v and usual %v minutes; want the factor", slow, usual)
	}
	var quick []Worked
	for range 60 {
		quick = append(quick, Worked{1, 1})
	}
	if c := Learn(map[uint64][]Worked{1: quick, 2: nil}, known); c.Students[1].PerBox() > 1.1 {
		t.Errorf("after 60 boxes of a minute, “slow” still counts: %v minutes", c.Students[1].PerBox())
	}
}

// simulate draws classes of known pace: students differ, boxes differ, and the
// truth is how long the rest took. It returns how often the forecast's range
// held it.
func simulate(rng *rand.Rand, students, drawn, left int, noise, between float64) (inside, all int) {
	worked, truth := map[uint64][]Worked{}, map[uint64]float64{}
	weights := make([]float64, left)
	for i := range weights {
		weights[i] = 0.4 + 1.2*rng.Float64()
	}
	middle := math.Log(1.5 + 3*rng.Float64())
	for s := range students {
		pace := middle + rng.NormFloat64()*between
		minutes := func(w float64) float64 { return w * math.Exp(pace+rng.NormFloat64()*noise) }
		id := uint64(s)
		worked[id] = nil
		for range drawn {
			w := 0.4 + 1.2*rng.Float64()
			worked[id] = append(worked[id], Worked{w, minutes(w)})
		}
		for _, w := range weights {
			truth[id] += minutes(w)
		}
	}
	c := Learn(worked, nil)
	for id, p := range c.Students {
		r := c.Forecast(p, weights)
		all++
		if truth[id] >= r.Low && truth[id] <= r.High {
			inside++
		}
	}
	return inside, all
}

// Simulated classes of known pace: the range that says eight in ten holds
// between seven and nine in ten, for quick and slow rooms, early and late.
func TestForecastCovers(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 4))
	for _, c := range []struct {
		students, drawn, left int
		noise, between        float64
	}{{24, 3, 40, 0.5, 0.35}, {24, 12, 30, 0.5, 0.45}, {30, 30, 8, 0.35, 0.35}, {16, 1, 20, 0.6, 0.3}, {24, 20, 5, 0.7, 0.5}} {
		inside, all := 0, 0
		for range 60 {
			i, a := simulate(rng, c.students, c.drawn, c.left, c.noise, c.between)
			inside, all = inside+i, all+a
		}
		if share := float64(inside) / float64(all); share < 0.7 || share > 0.9 {
			t.Errorf("%+v: the range holds %.0f %%; want 70 to 90", c, share*100)
		}
	}
}

func TestJudgeAndHelp(t *testing.T) {
	for _, c := range []struct {
		r    Range
		left float64
		want Prospect
	}{
		{Range{}, 0, Finished}, {Range{50, 60, 80}, 40, WillNot}, {Range{50, 60, 80}, 55, MayNot},
		{Range{50, 60, 80}, 70, Likely}, {Range{50, 60, 80}, 85, Sure}, {Range{50, 60, 80}, 200, Early},
	} {
		if got := Judge(c.r, c.left); got != c.want {
			t.Errorf("%+v in %v minutes: %s; want %s", c.r, c.left, got, c.want)
		}
		h := NewRoad().HelpFor(c.r, c.left, 20)
		if h.Why == "" || c.want != Sure && c.want != Likely && len(h.Ideas) == 0 {
			t.Errorf("%s: no help in %+v", c.want, h)
		}
	}
	if h := NewRoad().HelpFor(Range{90, 100, 130}, 50, 20); !strings.Contains(h.Ideas[0], "10 of the 20 boxes") || !strings.Contains(h.Ideas[1], "50 minutes") {
		t.Errorf("half the time: %q", h.Ideas)
	}
}

func TestWeights(t *testing.T) {
	w := Weights([]float64{0.7, 0.1, 0.1, 0.1}, 4)
	if !near(sum(w), 4, 1e-9) || !(w[0] > w[1]) || w[1] < bareBox {
		t.Errorf("weights %v; want the crowded box heavier, mean 1", w)
	}
	if even := Weights(nil, 3); !slices.Equal(even, []float64{1, 1, 1}) {
		t.Errorf("without detail %v", even)
	}
}

// A lesson from 10 to 50: boxes at 14 and 20 took 4 and 6 minutes, two at 30
// share the ten before them by weight; after it, a box 20 minutes later counts
// and one after a night does not.
func TestWorkOf(t *testing.T) {
	got := WorkOf([]Ticked{{20, 1}, {14, 1}, {30, 1}, {30.2, 3}, {70, 2}, {90, 1}, {900, 1}}, []Span{{10, 50}})
	want := []Worked{{1, 4}, {1, 6}, {1, 2.5}, {3, 7.5}, {1, 20}}
	if len(got) != len(want) {
		t.Fatalf("%v; want %v", got, want)
	}
	for i, w := range want {
		if !near(got[i].Minutes, w.Minutes, 1e-9) || got[i].Weight != w.Weight {
			t.Errorf("box %d: %v; want %v", i, got[i], w)
		}
	}
}

func TestRoad(t *testing.T) {
	r, err := NewRoad().Check()
	if err != nil {
		t.Fatal(err)
	}
	done, verdicts := map[StageID]bool{}, map[StageID]Verdict{}
	if p := r.Where(done, verdicts); p.Stage.Kind != MarkUp || p.Number != 1 || p.Of != 6 {
		t.Errorf("at the start, the teacher having picked and composed: %+v", p)
	}
	r.Begins = StageID(Draw) // what comes before counts as done, and looked at
	if p := r.Where(done, verdicts); p.Stage.Kind != Draw || p.Number != 1 || !r.Open(StageID(Draw), done, verdicts) || !r.Implied(nil, false)[StageID(MarkUp)] {
		t.Errorf("where the class begins by drawing: %+v", p)
	}
	r.Begins = StageID(Pick)
	if p := r.Where(done, verdicts); p.Stage.Kind != Pick || p.Number != 1 {
		t.Errorf("at the start: %+v", p)
	}
	done[StageID(Pick)], done[StageID(Compose)], done[StageID(MarkUp)] = true, true, true
	if p := r.Where(done, verdicts); p.Stage.Kind != MarkUp || !p.Waiting || !strings.Contains(p.Closed, "Draw box by box") {
		t.Errorf("marked up and not looked at: %+v", p)
	}
	if r.Open(StageID(Draw), done, verdicts) || !r.Open(StageID(MarkUp), done, verdicts) {
		t.Error("drawing is open before the grid was looked at")
	}
	verdicts[StageID(MarkUp)] = Again
	if p := r.Where(done, verdicts); !p.Waiting || !p.Again {
		t.Errorf("to be mended: %+v", p)
	}
	verdicts[StageID(MarkUp)] = Passed
	if p := r.Where(done, verdicts); p.Stage.Kind != Draw || !r.Open(StageID(Draw), done, verdicts) {
		t.Errorf("passed: %+v", p)
	}
	verdicts[StageID(MarkUp)] = TakenBack
	if r.Open(StageID(Draw), done, verdicts) {
		t.Error("a verdict taken back still opens drawing")
	}
	for _, s := range r.On() {
		done[s.ID], verdicts[s.ID] = true, Passed
	}
	if p := r.Where(done, verdicts); !p.Done {
		t.Errorf("at the end: %+v", p)
	}
	for i, s := range r.Stages {
		if s.Kind == Ink {
			r.Stages[i].On = true
		}
	}
	inked, err := r.Check()
	if err != nil || !slices.ContainsFunc(inked.Stages, func(s Stage) bool { return s.Kind == Check && s.Checkpoint == beforeInk }) {
		t.Errorf("with ink, nothing is approved for it: %v", err)
	}
	for name, bad := range map[string]func(*Road){
		"no stages":     func(r *Road) { r.Stages = nil },
		"unknown stage": func(r *Road) { r.Stages[0].Kind = "sing" },
		"unknown way":   func(r *Road) { r.Way = "spiral" },
		"no name": func(r *Road) {
			r.Stages[0] = Stage{Kind: Other, On: true, Minutes: 5}
			r.Stages[0].Title = strings.Repeat("é", 61)
		},
		"endless parts": func(r *Road) { r.Parts = make([]string, 81) },
		"empty part":    func(r *Road) { r.Parts = []string{""} },
		"odd objective": func(r *Road) {
			r.Objectives = []Objective{{Code: "a", Level: "basic", Words: "Near", Measure: ByBoxes}}
		},
		"twice one": func(r *Road) {
			r.Objectives = []Objective{{"a", "basic", "One", ByEye, 0}, {"a", "basic", "Two", ByEye, 0}}
		},
		"odd material": func(r *Road) { r.Stages[0].Needs = []Material{{Name: "paint", Each: math.Inf(1)}} },
		"odd tool":     func(r *Road) { r.Stages[0].Care = []Tool{"chainsaw"} },
		"no minutes":   func(r *Road) { r.Stages[3].Minutes = 0 },
		"NaN":          func(r *Road) { r.Stages[3].Minutes = math.NaN() },
		"nothing on": func(r *Road) {
			for i := range r.Stages {
				r.Stages[i].On = false
			}
		},
		"other outline": func(r *Road) { r.Outline = "sideways" },
	} {
		road := NewRoad()
		bad(&road)
		if _, err := road.Check(); !errors.Is(err, ErrRoad) {
			t.Errorf("%s: %v; want ErrRoad", name, err)
		}
	}
	for _, s := range NewRoad().Stages {
		if s.Name() == "" || s.Board() == "" {
			t.Errorf("%s has no words", s.Kind)
		}
		if c := s.Cautions(); len(c) > 0 && c[len(c)-1] != Defer {
			t.Errorf("%s: the cautions do not defer to the school", s.Kind)
		}
	}
}

// 24 November 2026 is a Tuesday (day 20781); 20 July 1969 was a Sunday.
func TestWeekdays(t *testing.T) {
	if Day(20781).Weekday() != 1 || Day(-165).Weekday() != 6 || Day(0).Weekday() != 3 {
		t.Errorf("weekdays %d %d %d; want Tuesday, Sunday, Thursday", Day(20781).Weekday(), Day(-165).Weekday(), Day(0).Weekday())
	}
}

// Worked by hand: Tuesdays and Thursdays of 50 minutes with 5 to set up and 5
// to clear away give 40 of drawing; 30 + 60 + 20 minutes fall as 30 + 10, 40,
// 10 + 20, and nothing moves when a lesson falls out but what comes after it.
func TestCalendar(t *testing.T) {
	c := Calendar{From: 20781, Until: 20781 + 13, Weekly: []Weekly{{Weekday: 1, Start: 540, Minutes: 50}, {Weekday: 3, Start: 600, Minutes: 50}}, Setup: 5, Clear: 5}
	lessons, err := c.Lessons()
	if err != nil || len(lessons) != 4 || lessons[0].Drawing() != 40 {
		t.Fatalf("%+v, %v; want four of 40 minutes", lessons, err)
	}
	stages := []Stage{{Kind: Compose, On: true, Minutes: 30}, {Kind: Draw, On: true, Minutes: 60}, {Kind: Check, On: true, Minutes: 20}}
	show := func(laid []Laid) (s string) {
		for _, l := range laid {
			for _, p := range l.Parts {
				s += fmt.Sprintf("%s %g ", p.Stage.Kind, p.Minutes)
			}
			s += "| "
		}
		return s
	}
	laid, over := Lay(stages, lessons)
	if got := show(laid); got != "compose 30 draw 10 | draw 40 | draw 10 check 20 | | " || over != 0 {
		t.Errorf("laid %s over %v", got, over)
	}
	c.Holidays = []Day{lessons[1].Day, lessons[3].Day}
	fewer, err := c.Lessons()
	if err != nil {
		t.Fatal(err)
	}
	if laid, over := Lay(stages, fewer); show(laid) != "compose 30 draw 10 | draw 40 | " || over != 30 {
		t.Errorf("with lessons out: %s over %v; want 30 left", show(laid), over)
	}
	// Lessons of 50 minutes draw for 40, from five past to five before the bell.
	for at, want := range map[float64]float64{0: 160, 5: 160, 25: 140, 45: 120, 50: 120} {
		if got := MinutesLeft(lessons, float64(int(lessons[0].Day)*24*60+540)+at); got != want {
			t.Errorf("%g minutes into the first lesson %g are left to draw; want %g", at, got, want)
		}
	}
	for name, bad := range map[string]Calendar{
		"no weekly lesson": {From: 1, Until: 9},
		"backwards":        {From: 9, Until: 1, Weekly: c.Weekly},
		"endless":          {From: 0, Until: 90000, Weekly: c.Weekly},
		"no minutes":       {From: 20781, Until: 20790, Weekly: []Weekly{{Weekday: 1, Start: 540, Minutes: 0}}},
		"all setting up":   {From: 20781, Until: 20790, Weekly: []Weekly{{Weekday: 1, Start: 540, Minutes: 10}}, Setup: 10},
		"over midnight":    {From: 20781, Until: 20790, Weekly: []Weekly{{Weekday: 1, Start: 1420, Minutes: 50}}},
	} {
		if l, err := bad.Lessons(); !errors.Is(err, ErrCalendar) {
			t.Errorf("%s: %v, %v; want ErrCalendar", name, l, err)
		}
	}
}

// Law: laying never loses or invents a minute.
func TestLayKeepsMinutes(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 300 {
		var stages []Stage
		var lessons []Lesson
		want, have := 0.0, 0.0
		for range rng.IntN(8) {
			m := float64(1 + rng.IntN(90))
			stages, want = append(stages, Stage{Kind: Draw, On: true, Minutes: m}), want+m
		}
		for i := range rng.IntN(8) {
			d := float64(1 + rng.IntN(60))
			lessons, have = append(lessons, Lesson{Day: Day(i), Minutes: int(d)}), have+d
		}
		laid, over := Lay(stages, lessons)
		for _, l := range laid {
			in := 0.0
			for _, p := range l.Parts {
				in += p.Minutes
			}
			if in > l.Drawing()+1e-9 {
				t.Fatalf("%v minutes in a lesson of %v", in, l.Drawing())
			}
			want -= in
		}
		if !near(want, over, 1e-9) {
			t.Fatalf("%v minutes are left, said %v", want, over)
		}
	}
}

func TestFirstTo(t *testing.T) {
	seats := []Seat{
		{ID: 1, PerBox: 3, SinceTick: 2, Prospect: Sure},
		{ID: 2, Hand: 4},
		{ID: 3, Place: Place{Waiting: true, Stage: Stage{Kind: MarkUp}}},
		{ID: 4, PerBox: 2, SinceTick: 14, Prospect: Likely},
		{ID: 5, Hand: 9},
		{ID: 6, Prospect: WillNot, PerBox: 3},
		{ID: 7, Absent: true, Hand: 50},
		{ID: 8, Flag: "pen leaks"},
		{ID: 9, Place: Place{Waiting: true, Again: true}, Prospect: Early},
	}
	var order []uint64
	for _, n := range FirstTo(seats) {
		order = append(order, n.ID)
		if now := slices.Contains([]uint64{5, 2, 3, 8, 4, 6}, n.ID); n.Now != now {
			t.Errorf("student %d needs the teacher now: %v", n.ID, n.Now)
		}
		if n.Score > 0 && n.Reason == "" {
			t.Errorf("student %d needs help without a reason", n.ID)
		}
	}
	if want := []uint64{5, 2, 3, 8, 4, 6, 9, 1, 7}; !slices.Equal(order, want) {
		t.Errorf("first to %v; want %v", order, want)
	}
}

// Worked by hand for 24: pencils for two stages are the same 24 and a fifth
// more, 28.8, so 29; sharpeners one for four, 6; paper 26.4, so 27.
func TestSupplies(t *testing.T) {
	r := NewRoad()
	got := map[string]int{}
	for _, s := range r.Supplies(24) {
		got[s.Name] = s.Need
		if len(s.Stages) == 0 {
			t.Errorf("%s is for no stage", s.Name)
		}
	}
	for name, want := range map[string]int{"pencil": 29, "sharpener": 6, "drawing paper": 27, "soft pencil": 53, "final paper": 0} {
		if got[name] != want {
			t.Errorf("%d of %s; want %d", got[name], name, want)
		}
	}
	for _, s := range r.Supplies(0) {
		if s.Need != 0 {
			t.Errorf("nobody needs %d of %s", s.Need, s.Name)
		}
	}
}

// Three lessons, of which two have begun: 2 boxes in the first, one at home, 3 in the second.
func TestBurnDown(t *testing.T) {
	lessons := []Span{{0, 50}, {100, 150}, {200, 250}}
	if got := BurnDown([]float64{10, 40, 80, 110, 120, 130}, lessons, 20, 140); !slices.Equal(got, []int{20, 17, 14}) {
		t.Errorf("left %v; want 20, 17, 14", got)
	}
	if got := BurnDown(nil, nil, 20, 0); !slices.Equal(got, []int{20}) {
		t.Errorf("before any lesson %v", got)
	}
}

// The time is short for those who will not finish or may not, and for no others.
func TestShort(t *testing.T) {
	for p, want := range map[Prospect]bool{WillNot: true, MayNot: true, Likely: false, Sure: false, Early: false, Finished: false} {
		if p.Short() != want {
			t.Errorf("%s: short %v; want %v", p, p.Short(), want)
		}
	}
}

// A drawing that is to fill its sheet is judged by its lesser side, and what it touches is said.
func TestFillingTheSheet(t *testing.T) {
	o := Objective{Code: "fill", Level: "basic", Words: "It fills the sheet", Measure: ByReach, Within: 0.7}
	if got := o.Judge(Seen{}); got.Known {
		t.Errorf("nothing measured: %+v", got)
	}
	for reached, r := range map[bool]Reach{true: {0.8, 0.71, nil}, false: {0.9, 0.64, []string{"left"}}} {
		got := o.Judge(Seen{Reach: &r})
		if !got.Known || got.Reached != reached || strings.Contains(got.Why, "touches the edge: left") == reached {
			t.Errorf("%+v: %+v", r, got)
		}
	}
}
