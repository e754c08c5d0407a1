package lesson

import (
	"errors"
	"fmt"
	"slices"
	"strings"
)

// ErrRoad is wrapped by the error of a road that cannot be gone.
var ErrRoad = errors.New("not a road")

// StageError is an ErrRoad about one stage: its minutes, its checkpoint or its words, as
// Field names them.
type StageError struct {
	ID    StageID
	Field string
	words string
}

func (e StageError) Error() string { return ErrRoad.Error() + ": " + e.words }

// Unwrap returns ErrRoad.
func (e StageError) Unwrap() error { return ErrRoad }

// NewStageError returns the error of one field of a stage.
func NewStageError(id StageID, field, words string) StageError { return StageError{id, field, words} }

// What a road may hold (ours): a stage's minutes are a school year of weekly lessons at most.
const (
	longestStage = 3000
	mostStages   = 40
	mostParts    = 80
	mostNeeds    = 20
	mostGoals    = 20
	mostIdeas    = 20
	longTitle    = 60
	longWords    = 240
	longCheck    = 120
)

// beforeInk is what must be looked at where a drawing is inked.
const beforeInk = "Approved for ink: proportions checked, lines smooth."

// Check returns the road with what follows from its own stages, or what is wrong with it.
// An odd order is no error: Findings tells it.
func (r Road) Check() (Road, error) {
	r = r.Named()
	switch {
	case len(r.On()) == 0:
		return r, fmt.Errorf("%w: wanted at least one stage that is on; switch one on", ErrRoad)
	case len(r.Stages) > mostStages:
		return r, fmt.Errorf("%w: wanted at most %d stages, got %d", ErrRoad, mostStages, len(r.Stages))
	case r.Way.info().way != r.Way:
		return r, fmt.Errorf("%w: there is no way of working %q", ErrRoad, r.Way)
	}
	if _, known := r.Find(r.Begins); !known {
		r.Begins = ""
	}
	for _, s := range r.Stages {
		if err := s.check(); err != nil {
			return r, err
		}
	}
	for _, l := range []struct {
		what  string
		list  []string
		most  int
		width int
	}{{"parts", r.Parts, mostParts, longTitle}, {"ideas for who is early", r.Extension, mostIdeas, longWords}} {
		if err := listed(l.what, l.list, l.most, l.width); err != nil {
			return r, err
		}
	}
	if err := checkObjectives(r.Objectives); err != nil {
		return r, err
	}
	r.approveBeforeInk()
	for _, one := range []struct{ name, got, a, b string }{{"outline", r.Outline, "first", "strips"}, {"darks", r.Darks, "first", "last"}} {
		if one.got != one.a && one.got != one.b {
			return r, fmt.Errorf("%w: %s is %s or %s, got %q", ErrRoad, one.name, one.a, one.b, one.got)
		}
	}
	return r, nil
}

// approveBeforeInk makes the usual look at the outline the one before ink, where there is ink.
func (r *Road) approveBeforeInk() {
	ink := slices.ContainsFunc(r.On(), func(s Stage) bool { return s.Kind == Ink })
	for i, s := range r.Stages {
		if ink && s.Kind == Check && s.On && s.Checkpoint == info(Check).check {
			r.Stages[i].Checkpoint = beforeInk
		}
	}
}

// can reports whether a material can be asked for so.
func (m Material) can() bool {
	return m.Name != "" && len([]rune(m.Name)) <= longTitle && m.Each >= 0 && m.Each <= 100 && m.Spare >= 0 && m.Spare <= 1
}

func (s Stage) check() error {
	ask := func(field, format string, args ...any) error {
		return StageError{s.ID, field, fmt.Sprintf(format, args...)}
	}
	if s.Kind.Name() == "" || len(s.ID) > 24 || strings.Trim(string(s.ID), "abcdefghijklmnopqrstuvwxyz0123456789-") != "" {
		return fmt.Errorf("%w: there is no stage %q", ErrRoad, s.Kind)
	}
	if s.On && !(s.Minutes > 0 && s.Minutes <= longestStage) {
		return ask("minutes", "“%s” takes 1 to %d minutes, such as 40", s.Name(), longestStage)
	}
	for _, t := range []struct {
		field, text, what string
		most              int
	}{{"title", s.Title, "a shorter name", longTitle}, {"check", s.Checkpoint, "a shorter checkpoint", longCheck}, {"words", s.Words, "shorter words", longWords}} {
		if len([]rune(t.text)) > t.most {
			return ask(t.field, "write %s for “%s”, of at most %d letters", t.what, s.Name(), t.most)
		}
	}
	if len(s.Needs) > mostNeeds {
		return ask("needs", "“%s” may need %d things at most", s.Name(), mostNeeds)
	}
	for _, m := range s.Needs {
		if !m.can() {
			return ask("needs", "write a material as “2 soft pencils” or “1 for 4 sharpener”, a name of at most %d letters", longTitle)
		}
	}
	for _, t := range s.Care {
		if cautions[t] == "" {
			return fmt.Errorf("%w: nothing is known of the tool %q", ErrRoad, t)
		}
	}
	return nil
}

// listed checks a list of names.
func listed(what string, list []string, most, width int) error {
	if len(list) > most {
		return fmt.Errorf("%w: wanted at most %d %s, got %d", ErrRoad, most, what, len(list))
	}
	for i, name := range list {
		if name == "" || len([]rune(name)) > width {
			return fmt.Errorf("%w: of the %s number %d has to have 1 to %d letters", ErrRoad, what, i+1, width)
		}
	}
	return nil
}

// Findings says what is odd about a road that may be gone all the same, and how to mend it.
func (r Road) Findings() (said []string) {
	on := r.On()
	first := slices.IndexFunc(on, Stage.Draws)
	if first < 0 {
		return []string{"Nothing is drawn on this road. Switch a stage on in which lines come onto paper, or add one."}
	}
	looked := false
	for i, s := range on {
		looked = looked || s.Checkpoint != "" && i >= first
		switch {
		case i < first && slices.Contains([]StageKind{Check, Ink, Erase, Reflect}, s.Kind):
			said = append(said, fmt.Sprintf("“%s” comes before any line is drawn. Move it behind “%s”.", s.Name(), on[first].Name()))
		case i > first && (s.Kind == Pick || s.Kind == Compose || s.Kind == MarkUp && on[first].Kind == Draw && !slices.ContainsFunc(on[i:], Stage.Draws)):
			said = append(said, fmt.Sprintf("“%s” comes when the drawing has begun. Move it before “%s”.", s.Name(), on[first].Name()))
		case s.Kind == Ink && !looked:
			said = append(said, fmt.Sprintf("Nobody looks before “%s”. Ink cannot be rubbed out: give a stage before it a checkpoint.", s.Name()))
		}
	}
	return said
}
