package lesson

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// StageKind names a stage of a project.
type StageKind string

// The stages, in the order of the work.
const (
	Pick     StageKind = "pick"
	Compose  StageKind = "compose"
	MarkUp   StageKind = "markup"
	Draw     StageKind = "draw"
	Check    StageKind = "check"
	Transfer StageKind = "transfer"
	Ink      StageKind = "ink"
	Erase    StageKind = "erase"
	Tone     StageKind = "tone"
	Reflect  StageKind = "reflect"
)

// Stage is one part of a project's road.
type Stage struct {
	Kind       StageKind `json:"kind"`
	On         bool      `json:"on"`
	Minutes    float64   `json:"minutes"`
	Checkpoint string    `json:"checkpoint,omitempty"` // what is looked at before the next stage opens; empty for none
}

// Road is a project's stages with the school that the teacher prefers.
type Road struct {
	Stages  []Stage `json:"stages"`
	Outline string  `json:"outline"` // "first": all outlines before any tone; "strips": finished strip by strip
	Darks   string  `json:"darks"`   // "first" or "last"
	Helpers bool    `json:"helpers"` // a named helper at home or a peer may approve
}

// stageInfo is what is fixed of a stage (common practice; minutes ours).
type stageInfo struct {
	kind      StageKind
	name      string
	minutes   float64
	on        bool
	check     string
	board     string
	materials []Material
	tools     []Tool
}

var stageInfos = []stageInfo{
	{Pick, "Pick the picture", 10, true, "", "Choose a picture you want to look at for a long time.", []Material{{"pictures of different difficulty", 0.25, 0, false}}, []Tool{Originals}},
	{Compose, "Compose", 15, true, "", "Frame a part. Try three upright thumbnails and three lying.", []Material{{"window or two L-shaped strips", 1, 0.1, false}, {"thumbnail page", 1, 0.1, true}}, []Tool{Scissors}},
	{MarkUp, "Mark up the sheet", 20, true, "The grid is true: boxes equal, counts alike, lines faint.", "Zero on the corner. Mark all of one side, then the other, then join.", []Material{{"drawing paper", 1, 0.1, true}, {"ruler or printed strips", 1, 0.1, false}, {"pencil", 1, 0.2, false}}, []Tool{Trimmer, Scissors}},
	{Draw, "Draw box by box", 120, true, "", "One box at a time: where does the line enter, where does it leave?", []Material{{"gridded picture", 1, 0.1, true}, {"pencil", 1, 0.2, false}, {"sharpener", 0.25, 0, false}, {"card with a window", 1, 0.1, false}, {"scrap paper", 1, 0.1, true}}, nil},
	{Check, "Check", 10, true, "The outline is approved.", "Lay both upside down. Which box is off?", []Material{{"clean picture", 1, 0.1, true}}, []Tool{Photos}},
	{Transfer, "Transfer", 30, false, "Nothing is missing: the tape may come off.", "Darken the main lines first. Trace in a second colour. Lift and look early.", []Material{{"final paper", 1, 0.1, true}, {"roll of tape", 0.25, 0, false}, {"soft base", 1, 0, false}, {"backing pencil or pastel", 1, 0.1, false}}, []Tool{Dust, LightBox, Window}},
	{Ink, "Ink", 30, false, "", "Fine tip for outlines, broad marker for large blacks.", []Material{{"fine tip 0.2 mm", 1, 0.1, false}, {"broad marker", 0.5, 0, false}}, []Tool{Markers}},
	{Erase, "Erase the grid", 10, true, "", "Erase inside the figure. Hold the paper flat.", []Material{{"eraser with a cut corner", 1, 0.1, false}}, nil},
	{Tone, "Tone or colour", 60, true, "", "Start with the darkest. Squint. Leave the whites white.", []Material{{"soft pencil", 2, 0.1, false}, {"values strip", 1, 0.1, false}}, []Tool{Dust, Paint, Fixative}},
	{Reflect, "Look again", 10, true, "", "Side by side, right way up. What differs? What are you glad of?", nil, []Tool{Photos}},
}

func info(k StageKind) stageInfo {
	for _, i := range stageInfos {
		if i.kind == k {
			return i
		}
	}
	return stageInfo{kind: k, name: string(k)}
}

// Name, Board, Materials and Cautions return what stands on a stage's card.
func (s Stage) Name() string  { return info(s.Kind).name }
func (s Stage) Board() string { return info(s.Kind).board }
func (s Stage) Materials() (names []string) {
	for _, m := range info(s.Kind).materials {
		names = append(names, m.Name)
	}
	return names
}
func (s Stage) Cautions() []string { return Cautions(info(s.Kind).tools...) }

// beforeInk is what must be looked at where a drawing is inked.
const beforeInk = "Approved for ink: proportions checked, lines smooth."

// NewRoad returns the usual road.
func NewRoad() Road {
	r := Road{Outline: "first", Darks: "first"}
	for _, i := range stageInfos {
		r.Stages = append(r.Stages, Stage{i.kind, i.on, i.minutes, i.check})
	}
	return r
}

// ErrRoad is wrapped by the error of a road that cannot be gone.
var ErrRoad = errors.New("not a road")

// StageError is an ErrRoad about one stage: its minutes, or its checkpoint.
type StageError struct {
	Kind       StageKind
	Checkpoint bool
	words      string
}

func (e StageError) Error() string { return ErrRoad.Error() + ": " + e.words }

// Unwrap returns ErrRoad.
func (e StageError) Unwrap() error { return ErrRoad }

// longestStage bounds a stage's minutes: a school year of weekly lessons.
const longestStage = 3000

// Check returns the road with what follows from its own stages, or what is
// wrong with it: every stage once in the order of the work, drawing among them.
func (r Road) Check() (Road, error) {
	if len(r.Stages) != len(stageInfos) {
		return r, fmt.Errorf("%w: wanted all %d stages, got %d", ErrRoad, len(stageInfos), len(r.Stages))
	}
	r.Stages = slices.Clone(r.Stages)
	for i, s := range r.Stages {
		switch {
		case s.Kind != stageInfos[i].kind:
			return r, fmt.Errorf("%w: stage %d is %q, wanted %q", ErrRoad, i+1, s.Kind, stageInfos[i].kind)
		case s.On && !(s.Minutes > 0 && s.Minutes <= longestStage):
			return r, StageError{s.Kind, false, fmt.Sprintf("“%s” takes 1 to %d minutes, such as 40", s.Name(), longestStage)}
		case len([]rune(s.Checkpoint)) > 120:
			return r, StageError{s.Kind, true, fmt.Sprintf("write a shorter checkpoint for “%s”, of at most 120 letters", s.Name())}
		}
	}
	at := func(k StageKind) *Stage {
		return &r.Stages[slices.IndexFunc(r.Stages, func(s Stage) bool { return s.Kind == k })]
	}
	if !at(Draw).On {
		return r, fmt.Errorf("%w: a project without drawing has nothing to follow; switch “%s” on", ErrRoad, at(Draw).Name())
	}
	if at(Ink).On && at(Check).On && at(Check).Checkpoint == info(Check).check {
		at(Check).Checkpoint = beforeInk // approve before ink
	}
	for _, one := range []struct{ name, got, a, b string }{{"outline", r.Outline, "first", "strips"}, {"darks", r.Darks, "first", "last"}} {
		if one.got != one.a && one.got != one.b {
			return r, fmt.Errorf("%w: %s is %s or %s, got %q", ErrRoad, one.name, one.a, one.b, one.got)
		}
	}
	return r, nil
}

// On returns the stages that are on.
func (r Road) On() (on []Stage) {
	for _, s := range r.Stages {
		if s.On {
			on = append(on, s)
		}
	}
	return on
}

// Verdict is what was said at a checkpoint.
type Verdict string

// The verdicts. One that was taken back is as if it had not been given, and is
// kept with its reason.
const (
	Passed    Verdict = "passed"
	Again     Verdict = "again"
	TakenBack Verdict = "taken back"
)

// Place is where somebody is on the road.
type Place struct {
	Stage   Stage
	Number  int  // from 1, of the stages that are on
	Of      int  // how many there are
	Waiting bool // for the checkpoint that closes this stage
	Again   bool // it was looked at, and something is to be mended
	Closed  string
	Done    bool // all of it
}

// Where returns where somebody is who has done some stages and passed some
// checkpoints: at the first stage that is not done, or before the first
// checkpoint that closes what comes next.
func (r Road) Where(done map[StageKind]bool, verdicts map[StageKind]Verdict) Place {
	on := r.On()
	for i, s := range on {
		p := Place{Stage: s, Number: i + 1, Of: len(on), Again: verdicts[s.Kind] == Again}
		if !done[s.Kind] {
			return p
		}
		if s.Checkpoint != "" && verdicts[s.Kind] != Passed {
			p.Waiting = true
			if i+1 < len(on) {
				p.Closed = fmt.Sprintf("“%s” opens when this was looked at: %s", on[i+1].Name(), strings.TrimSuffix(s.Checkpoint, "."))
			}
			return p
		}
	}
	return Place{Stage: on[len(on)-1], Number: len(on), Of: len(on), Done: true}
}

// Implied returns the stages that somebody has done: those that were marked, and
// what comes before drawing where they have drawn.
func (r Road) Implied(marked map[StageKind]bool, drawn bool) map[StageKind]bool {
	if !drawn {
		return marked
	}
	done := maps.Clone(marked)
	if done == nil {
		done = map[StageKind]bool{}
	}
	for _, s := range r.On() {
		if s.Kind == Draw {
			break
		}
		done[s.Kind] = true
	}
	return done
}

// LastDone returns the last stage of the road that was marked as done, which may
// be taken back; ok is false where none was.
func (r Road) LastDone(marked map[StageKind]bool) (last Stage, ok bool) {
	for _, s := range r.On() {
		if marked[s.Kind] {
			last, ok = s, true
		}
	}
	return last, ok
}

// Open reports whether somebody may work on a stage: everything before it is
// done, and every checkpoint before it passed.
func (r Road) Open(k StageKind, done map[StageKind]bool, verdicts map[StageKind]Verdict) bool {
	for _, s := range r.On() {
		if s.Kind == k {
			return true
		}
		if !done[s.Kind] || s.Checkpoint != "" && verdicts[s.Kind] != Passed {
			return false
		}
	}
	return false
}

// HasCheckpoint reports whether a stage is on and ends with a look.
func (r Road) HasCheckpoint(k StageKind) bool {
	return slices.ContainsFunc(r.On(), func(s Stage) bool { return s.Kind == k && s.Checkpoint != "" })
}

// Minutes returns how long all stages that are on take together.
func (r Road) Minutes() (m float64) {
	for _, s := range r.On() {
		m += s.Minutes
	}
	return m
}
