// Package press makes sets of pages for a class: it fetches what pages need
// from the store, has core/sheet lay them out and render write them. Sets for
// many are jobs, which any copy of the program may take.
package press

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
)

// Spec is what was chosen in the print room. It is kept as JSON with jobs and
// saved sets.
type Spec struct {
	Kinds      []page.Kind `json:"kinds"`
	Paper      string      `json:"paper"` // a paper's name, or a size
	Printer    uint64      `json:"printer,omitempty"`
	Grey       bool        `json:"grey,omitempty"`
	UpsideDown bool        `json:"upside_down,omitempty"`
	Mirrored   bool        `json:"mirrored,omitempty"`
	Faded      bool        `json:"faded,omitempty"`
	MarksOnly  bool        `json:"marks_only,omitempty"`
	AllBoxes   bool        `json:"all_boxes,omitempty"` // cards of boxes with nothing in them too
	Help       string      `json:"help,omitempty"`      // how far pictures and cards help to see a box, a reading.Help
	Views      int         `json:"views,omitempty"`
	Round      int         `json:"round,omitempty"` // of the exercise sheet, from 1
	Solid      string      `json:"solid,omitempty"` // width × height of what is drawn in several views
	Depth      string      `json:"depth,omitempty"`
	ByPage     bool        `json:"by_page,omitempty"`
	Duplex     bool        `json:"duplex,omitempty"`

	Share sheet.Sharing `json:"share,omitempty"` // how pages share sheets: made for half the paper, two a side

	Spare    int      `json:"spare,omitempty"` // sets without a name
	Students []uint64 `json:"students,omitempty"`
	Everyone bool     `json:"everyone,omitempty"`
	Base     string   `json:"base,omitempty"`  // where students' links lead, https://host
	Class    uint64   `json:"class,omitempty"` // of those that draw the project, 0 for the first
}

// ErrSpec is wrapped by errors about what was chosen.
var ErrSpec = errors.New("cannot be printed")

// MostSpare bounds the sets without a name.
const MostSpare = 30

// Check returns the spec with its kinds in order, or what is wrong with it.
func (s Spec) Check() (Spec, error) {
	var kinds []page.Kind
	for _, a := range sheet.Kinds {
		if slices.Contains(s.Kinds, a.Kind) {
			kinds = append(kinds, a.Kind)
		}
	}
	s.Kinds = kinds
	switch {
	case len(kinds) == 0:
		return s, fmt.Errorf("%w: choose at least one page", ErrSpec)
	case s.Spare < 0 || s.Spare > MostSpare:
		return s, fmt.Errorf("%w: wanted 0 to %d spare sets, got %d", ErrSpec, MostSpare, s.Spare)
	}
	if s.Round < 0 || s.Round > sheet.MostRounds {
		return s, fmt.Errorf("%w: wanted exercise sheet 1 to %d, got %d", ErrSpec, sheet.MostRounds, s.Round)
	}
	if reading.Help(s.Help).Step() < 0 {
		return s, fmt.Errorf("%w: help is dots, words or lines, got %q", ErrSpec, s.Help)
	}
	if !slices.Contains(sheet.Sharings, s.Share) {
		return s, fmt.Errorf("%w: pages share a sheet as halves or as a booklet, got %q", ErrSpec, s.Share)
	}
	if s.Share == sheet.Booklet { // a booklet is one student's, and printed on both sides
		s.ByPage, s.Duplex = false, true
	}
	if _, err := s.Size(); err != nil {
		return s, err
	}
	return s, nil
}

// Size returns the printer's paper, upright.
func (s Spec) Size() (measure.Size, error) {
	size, err := measure.ParseSize(s.Paper, measure.Millimetre)
	if err != nil || size.W < 50 || size.H < 50 || size.W > 1200 || size.H > 1200 {
		return measure.Size{}, fmt.Errorf("%w: wanted the printer's paper, A4, Letter or a size such as 210 × 297 mm, got %q", ErrSpec, s.Paper)
	}
	if size.W > size.H {
		size = size.Turned()
	}
	return size, nil
}

// JSON returns the spec as it is kept.
func (s Spec) JSON() string {
	b, err := json.Marshal(s)
	if err != nil {
		panic(err) // plain fields: cannot happen
	}
	return string(b)
}

// Parse reads a spec that was kept.
func Parse(text string) (s Spec, err error) {
	if err := json.Unmarshal([]byte(text), &s); err != nil {
		return s, fmt.Errorf("%w: the saved choice is damaged", ErrSpec)
	}
	return s, nil
}

// Ready are sets that come with the program.
var Ready = []struct {
	Name string
	Spec Spec
}{
	{"Lesson one", Spec{Kinds: []page.Kind{sheet.KindCover, sheet.KindReference, sheet.KindClean, sheet.KindMarks, sheet.KindStudent}}},
	{"No rulers", Spec{Kinds: []page.Kind{sheet.KindReference, sheet.KindStrips, sheet.KindMarks, sheet.KindWindows}}},
	{"Home pack, lists only", Spec{Kinds: []page.Kind{sheet.KindProject, sheet.KindMarks, sheet.KindStudent, sheet.KindTape}}},
	{"Checking in", Spec{Kinds: []page.Kind{sheet.KindTags, sheet.KindTeacher}}},
}

// KindNames writes the kinds of a spec for people.
func (s Spec) KindNames() string {
	var names []string
	for _, k := range s.Kinds {
		if a, ok := sheet.KindNamed(k); ok {
			names = append(names, strings.ToLower(a.Name))
		}
	}
	return strings.Join(names, ", ")
}
