package lesson

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Road is how a project goes: its stages with the school that the teacher prefers, what it
// is to reach, and what comes after it for who is early.
type Road struct {
	Way        Way         `json:"way,omitempty"`   // empty for box by box
	Parts      []string    `json:"parts,omitempty"` // what progress is counted in, by name; none for boxes
	Stages     []Stage     `json:"stages"`
	Begins     StageID     `json:"begins,omitempty"`     // where students begin: what stands before it counts as done and passed; empty for the first
	Outline    string      `json:"outline"`              // "first": all outlines before any tone; "strips": finished strip by strip
	Darks      string      `json:"darks"`                // "first" or "last"
	Helpers    bool        `json:"helpers"`              // a named helper at home or a peer may approve
	Invent     bool        `json:"invent,omitempty"`     // background and colours are the student's own
	Objectives []Objective `json:"objectives,omitempty"` // none for the usual ones
	Extension  []string    `json:"extension,omitempty"`  // work for who is early; none for what the program proposes
}

// Named returns the road with a name for every stage that has none, as roads of before
// stages had names, and of two with one name the second anew. Names that are there stay.
func (r Road) Named() Road {
	r.Stages = slices.Clone(r.Stages)
	taken := map[StageID]bool{}
	for i := range r.Stages {
		s := &r.Stages[i]
		if taken[s.ID] {
			s.ID = ""
		}
		taken[s.ID] = s.ID != ""
	}
	for i := range r.Stages {
		s := &r.Stages[i]
		if s.ID != "" {
			continue
		}
		s.ID = StageID(s.Kind)
		for n := 2; taken[s.ID]; n++ {
			s.ID = StageID(fmt.Sprintf("%s-%d", s.Kind, n))
		}
		taken[s.ID] = true
	}
	return r
}

// Added returns the road with one more stage of a kind at its end, before the last look.
func (r Road) Added(k StageKind) Road {
	s := NewStage(k)
	if k == Other {
		s.Title = info(k).name
	}
	at := len(r.Stages)
	if at > 0 && r.Stages[at-1].Kind == Reflect && k != Reflect {
		at--
	}
	s.ID = "" // Named finds one
	r.Stages = slices.Insert(slices.Clone(r.Stages), at, s)
	return r.Named()
}

// Moved returns the road with a stage moved "up" or "down", taken "away", or there "twice";
// as it is for anything else.
func (r Road) Moved(id StageID, how string) Road {
	i := slices.IndexFunc(r.Stages, func(s Stage) bool { return s.ID == id })
	if i < 0 {
		return r
	}
	r.Stages = slices.Clone(r.Stages)
	switch {
	case how == "up" && i > 0:
		r.Stages[i-1], r.Stages[i] = r.Stages[i], r.Stages[i-1]
	case how == "down" && i+1 < len(r.Stages):
		r.Stages[i+1], r.Stages[i] = r.Stages[i], r.Stages[i+1]
	case how == "away":
		r.Stages = slices.Delete(r.Stages, i, i+1)
	case how == "twice":
		again := r.Stages[i]
		again.ID = "" // Named finds one
		r.Stages = slices.Insert(r.Stages, i+1, again)
		return r.Named()
	}
	return r
}

// Find returns a stage of the road, on or off.
func (r Road) Find(id StageID) (Stage, bool) {
	i := slices.IndexFunc(r.Stages, func(s Stage) bool { return s.ID == id })
	if i < 0 {
		return Stage{}, false
	}
	return r.Stages[i], true
}

// StageName returns what a stage is called, also one that the road has no more.
func (r Road) StageName(id StageID) string {
	if s, ok := r.Find(id); ok {
		return s.Name()
	}
	kind, _, _ := strings.Cut(string(id), "-")
	return cmp.Or(StageKind(kind).Name(), "A stage of before")
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
	Number  int  // from 1, of the stages that are on, from where students begin
	Of      int  // how many those are
	Waiting bool // for the checkpoint that closes this stage
	Again   bool // it was looked at, and something is to be mended
	Closed  string
	Done    bool // all of it
}

// Where returns where somebody is who has done some stages and passed some
// checkpoints: at the first stage that is not done, or before the first
// checkpoint that closes what comes next.
func (r Road) Where(done map[StageID]bool, verdicts map[StageID]Verdict) Place {
	on := slices.DeleteFunc(r.On(), func(s Stage) bool { return r.before(s.ID) })
	for i, s := range on {
		p := Place{Stage: s, Number: i + 1, Of: len(on), Again: verdicts[s.ID] == Again}
		if !done[s.ID] {
			return p
		}
		if s.Checkpoint != "" && verdicts[s.ID] != Passed {
			p.Waiting = true
			if i+1 < len(on) {
				p.Closed = fmt.Sprintf("“%s” opens when this was looked at: %s", on[i+1].Name(), strings.TrimSuffix(s.Checkpoint, "."))
			}
			return p
		}
	}
	all := r.On()
	return Place{Stage: all[len(all)-1], Number: len(on), Of: len(on), Done: true}
}

// before reports whether a stage stands before the one at which students begin.
func (r Road) before(id StageID) bool {
	at := func(id StageID) int { return slices.IndexFunc(r.Stages, func(s Stage) bool { return s.ID == id }) }
	return r.Begins != "" && at(id) < at(r.Begins)
}

// Drawing returns the stage in which boxes, or parts, are drawn: the first of that kind that
// is on, or else the first in which lines come onto paper.
func (r Road) Drawing() (s Stage, ok bool) {
	on := r.On()
	i := slices.IndexFunc(on, func(s Stage) bool { return s.Kind == Draw })
	if i < 0 {
		i = slices.IndexFunc(on, Stage.Draws)
	}
	if i < 0 {
		return s, false
	}
	return on[i], true
}

// DrawsIn reports whether boxes, or parts, are drawn in a stage.
func (r Road) DrawsIn(s Stage) bool {
	drawing, ok := r.Drawing()
	return ok && drawing.ID == s.ID
}

// After returns the minutes of the stages that are on behind the one in which is drawn.
func (r Road) After() (minutes float64) {
	drawing, after := StageID(""), false
	if s, ok := r.Drawing(); ok {
		drawing = s.ID
	}
	for _, s := range r.On() {
		if after {
			minutes += s.Minutes
		}
		after = after || s.ID == drawing
	}
	return minutes
}

// Implied returns the stages that somebody has done: those that were marked, those before the one at
// which students begin, and what comes before drawing where they have drawn.
func (r Road) Implied(marked map[StageID]bool, drawn bool) map[StageID]bool {
	drawing, known := r.Drawing()
	done := maps.Clone(marked)
	if done == nil {
		done = map[StageID]bool{}
	}
	drawn = drawn && known
	for _, s := range r.On() {
		drawn = drawn && s.ID != drawing.ID
		if drawn || r.before(s.ID) {
			done[s.ID] = true
		}
	}
	return done
}

// LastDone returns the last stage of the road that was marked as done, which may
// be taken back; ok is false where none was.
func (r Road) LastDone(marked map[StageID]bool) (last Stage, ok bool) {
	for _, s := range r.On() {
		if marked[s.ID] {
			last, ok = s, true
		}
	}
	return last, ok
}

// Open reports whether somebody may work on a stage: everything before it is
// done, and every checkpoint before it passed.
func (r Road) Open(id StageID, done map[StageID]bool, verdicts map[StageID]Verdict) bool {
	for _, s := range r.On() {
		if s.ID == id {
			return true
		}
		if r.before(s.ID) {
			continue
		}
		if !done[s.ID] || s.Checkpoint != "" && verdicts[s.ID] != Passed {
			return false
		}
	}
	return false
}

// HasCheckpoint reports whether a stage is on and ends with a look.
func (r Road) HasCheckpoint(id StageID) bool {
	s, there := r.Find(id)
	return there && s.On && s.Checkpoint != ""
}

// Minutes returns how long all stages that are on take together.
func (r Road) Minutes() (m float64) {
	for _, s := range r.On() {
		m += s.Minutes
	}
	return m
}
