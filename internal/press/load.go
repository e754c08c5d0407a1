package press

import (
	"context"
	"errors"
	"fmt"
	"image"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/survey"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// ErrPlan is wrapped by the error of a plan that must not be drawn.
var ErrPlan = errors.New("nothing to print by")

// Load fetches what the sets of a teacher's project need; plans.ErrNone where it has no plan yet.
func Load(ctx context.Context, s *store.Store, p store.Project, spec Spec) (Set, error) {
	set := Set{Project: p}
	plan, err := plans.Needed(ctx, s, p)
	if err != nil {
		return set, err
	}
	set.Class = plan
	if err := plans.Fits(plan, p.Picture); err != nil {
		return set, fmt.Errorf("%w: %w", ErrPlan, err)
	}
	if f, stopped := set.Class.Stopped(); stopped {
		return set, fmt.Errorf("%w: %s %s", ErrPlan, f.Message, f.Fix)
	}
	if set.Printer, err = printer(ctx, s, p.TeacherID, spec); err != nil {
		return set, err
	}
	set.Printer.Units = plan.Units
	planned, err := plans.Shown(ctx, s, p, set.Class)
	if err != nil {
		return set, err
	}
	set.Own = func(student uint64) (grid.Plan, *store.Picture) {
		return planned.Of(student), planned.PictureOf(student)
	}
	set.Link = func(ctx context.Context, student uint64) (string, error) { return s.Link(ctx, p, student) }
	set.lookBy(func(picture uint64, look func(*image.RGBA) error) error {
		file, err := s.PictureFile(ctx, p.TeacherID, picture, store.View)
		if err != nil {
			return err
		}
		return intake.Use(ctx, file.Bytes, look)
	})
	set.Read = readOnce(func(plan grid.Plan, pic *store.Picture) (reading.Reading, error) {
		return ReadBoxes(ctx, s, p, plan, pic)
	})
	return set, set.extras(ctx, s, spec)
}

// ReadBoxes returns what is in the boxes of a picture of a project's teacher by a plan, by
// the lines and in the fractions that the project wants.
func ReadBoxes(ctx context.Context, s *store.Store, p store.Project, plan grid.Plan, pic *store.Picture) (read reading.Reading, err error) {
	file, err := s.PictureFile(ctx, p.TeacherID, pic.ID, store.View)
	if err != nil {
		return read, err
	}
	err = intake.Use(ctx, file.Bytes, func(img *image.RGBA) error {
		read, err = reading.Picture(plan, img, pic.LineDrawing(), p.ReadBy, p.Finest)
		return err
	})
	return read, err
}

// readOnce reads each picture once for each plan that is laid over it.
func readOnce(read func(grid.Plan, *store.Picture) (reading.Reading, error)) func(grid.Plan, *store.Picture) ([]reading.Box, error) {
	known := map[string][]reading.Box{}
	return func(p grid.Plan, pic *store.Picture) ([]reading.Box, error) {
		if pic == nil || p.Frame == nil {
			return nil, nil
		}
		text, err := grid.Encode(p)
		if err != nil {
			return nil, err
		}
		key := fmt.Sprint(pic.ID, string(text))
		if boxes, ok := known[key]; ok {
			return boxes, nil
		}
		r, err := read(p, pic)
		if err == nil {
			known[key] = r.Boxes
		}
		return r.Boxes, err
	}
}

// emptyBoxes looks each picture up once for each grid that is laid over it.
func emptyBoxes(see func(picture uint64, look func(*image.RGBA) error) error) func(grid.Plan, *store.Picture) ([]string, error) {
	type seen struct {
		picture uint64
		frame   grid.Frame
		boxes   [2]int
	}
	known := map[seen][]string{}
	return func(p grid.Plan, pic *store.Picture) ([]string, error) {
		if pic == nil || p.Frame == nil {
			return nil, nil
		}
		key := seen{pic.ID, *p.Frame, [2]int{p.Grid.Columns, p.Grid.Rows}}
		if empty, ok := known[key]; ok {
			return empty, nil
		}
		var empty []string
		err := see(pic.ID, func(img *image.RGBA) (err error) {
			empty, err = survey.Empty(img, p)
			return err
		})
		known[key] = empty
		return empty, err
	}
}

// See lets a set look at pictures that somebody has decoded already.
func (set *Set) See(pixels func(picture uint64) (*image.RGBA, error)) {
	set.lookBy(func(picture uint64, look func(*image.RGBA) error) error {
		img, err := pixels(picture)
		if err != nil {
			return err
		}
		return look(img)
	})
}

func (set *Set) lookBy(see func(picture uint64, look func(*image.RGBA) error) error) {
	set.Look, set.Empty, set.reduced = see, emptyBoxes(see), map[string]sheet.Reduced{}
}

func (set *Set) extras(ctx context.Context, s *store.Store, spec Spec) error {
	var err error
	if set.Landmarks, err = s.Landmarks(ctx, set.Project.ID, set.Project.PictureID); err != nil {
		return err
	}
	if slices.Contains(spec.Kinds, sheet.KindViews) {
		if set.Views, err = s.Views(ctx, set.Project.ID); err != nil {
			return err
		}
		if set.Marks, err = s.LandmarksOfAll(ctx, set.Project.ID); err != nil {
			return err
		}
	}
	slices.SortStableFunc(set.Landmarks, func(a, b store.Landmark) int { return b.Weight - a.Weight })
	return nil
}

// printer returns the printer of a spec with what was measured of it.
func printer(ctx context.Context, s *store.Store, teacher uint64, spec Spec) (page.Printer, error) {
	size, err := spec.Size()
	if err != nil {
		return page.Printer{}, err
	}
	if spec.Share != sheet.Alone {
		size = sheet.Half(size)
	}
	pr := page.On(size)
	if spec.Printer == 0 {
		return pr, nil
	}
	known, err := s.Printer(ctx, teacher, spec.Printer)
	if err != nil {
		return pr, err
	}
	pr.Margin = known.Margin
	for _, c := range known.Corrections {
		if c.Paper == spec.Paper {
			pr.Across, pr.Down = c.Across, c.Down
		}
	}
	return pr, nil
}
