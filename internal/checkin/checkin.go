// Package checkin takes photographs of drawings in: whose they are, what is
// measured on them, and where they are kept.
package checkin

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"image"
	"strconv"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// Job is a project with all that a check of one student's drawing needs.
type Job struct {
	Project   store.Project
	Plan      grid.Plan      // the student's own
	Picture   *store.Picture // and the picture drawn from; nil for none
	Landmarks []store.Landmark
}

// Load returns what a student's drawing is checked against; student 0 is the
// class. plans.ErrNone where the project has no plan.
func Load(ctx context.Context, s *store.Store, p store.Project, student uint64) (Job, error) {
	plan, err := plans.Needed(ctx, s, p)
	if err != nil {
		return Job{}, err
	}
	planned, err := plans.Load(ctx, s, p, plan)
	if err != nil {
		return Job{}, err
	}
	j := Job{Project: p, Plan: planned.Of(student), Picture: planned.PictureOf(student)}
	j.Landmarks, err = s.Landmarks(ctx, p.ID, j.PictureID())
	return j, err
}

// PictureID returns the picture's number, nil for none.
func (j Job) PictureID() *uint64 {
	if j.Picture == nil {
		return nil
	}
	return &j.Picture.ID
}

// Tolerance returns the project's, in boxes.
func (j Job) Tolerance() float64 { return j.Project.Looseness.Tolerance() }

// Mark returns a landmark as the plan sees it; ok is false where the plan does
// not show it: it may have been placed on a part that was cropped away later.
func (j Job) Mark(l store.Landmark) (m accuracy.Landmark, ok bool) {
	at := j.Plan.FromPicture(plane.Pt(l.X, l.Y))
	m = accuracy.Landmark{Key: strconv.FormatUint(l.ID, 10), Name: l.Name, Weight: float64(l.Weight), Class: l.Class, Reference: at}
	return m, at.X >= 0 && at.Y >= 0 && at.X <= j.Plan.Reference.Width && at.Y <= j.Plan.Reference.Height
}

// Marks returns the landmarks that the plan shows, each with the place that a
// person gave it in the check-in, if any.
func (j Job) Marks(c store.CheckIn) (marks []accuracy.Landmark) {
	for _, l := range j.Landmarks {
		if m, ok := j.Mark(l); ok {
			if at, has := c.Marks[l.ID]; has {
				m.Photo = &at
			}
			marks = append(marks, m)
		}
	}
	return marks
}

// sum tells plans apart, so that a measure is not kept past its plan.
func (j Job) sum() uint32 {
	h := fnv.New32a()
	if b, err := grid.Encode(j.Plan); err == nil {
		h.Write(b)
	}
	fmt.Fprint(h, j.Project.Looseness, j.Project.Compare)
	return h.Sum32()
}

// Fresh reports whether a check-in's measures are of the job as it now is.
func (j Job) Fresh(c store.CheckIn) bool { return c.Gist != nil && c.PlanSum == j.sum() }

// Measure measures a check-in's photo and puts the report into it, with the
// corners where they were looked for. Without any it stays without a report.
func Measure(ctx context.Context, s *store.Store, j Job, c *store.CheckIn, by photo.FoundBy, shot *photo.Shot) error {
	ref, err := j.reference(ctx, s)
	if err != nil {
		return err
	}
	work := accuracy.Job{
		Plan: j.Plan, Reference: ref, Tonal: ref != nil && !j.Picture.LineDrawing(), Photo: shot,
		Corners: c.Corners, FoundBy: by, Marks: j.Marks(*c), Tolerance: j.Tolerance(), Compare: j.Project.Compare,
	}
	report, err := accuracy.Measure(work)
	if errors.Is(err, accuracy.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	c.Settle(report)
	c.PlanSum = j.sum()
	return nil
}

// reference returns the job's picture as large as the screen shows it, which
// is finer than any box is compared; nil for none.
func (j Job) reference(ctx context.Context, s *store.Store) (*photo.Shot, error) {
	if j.Picture == nil {
		return nil, nil
	}
	file, err := s.PictureFile(ctx, j.Project.TeacherID, j.Picture.ID, store.View)
	if err != nil {
		return nil, err
	}
	img, err := picture.Decode(file.Bytes)
	if err != nil {
		return nil, err
	}
	return photo.NewShot(img), nil
}

// Again measures a check-in anew: its corners were moved, or its plan changed.
// The caller keeps it.
func Again(ctx context.Context, s *store.Store, j Job, c *store.CheckIn) error {
	file, err := s.PictureFile(ctx, j.Project.TeacherID, c.PictureID, store.Full)
	if err != nil {
		return err
	}
	by := photo.ByHand
	if c.Report != nil && c.Corners != nil && c.Report.Corners == *c.Corners {
		by = c.Report.FoundBy
	}
	return intake.Use(file.Bytes, func(img *image.RGBA) error {
		return Measure(ctx, s, j, c, by, photo.NewShot(img))
	})
}

// Taken is what became of one photo.
type Taken struct {
	CheckIns []store.CheckIn // a photo may show several drawings
	Stray    *store.Stray    // where nobody can say yet whose it is
}

// Take takes a photo in: tags say whose drawings it shows and where; else it
// is the given student's, or waits in the project's tray where student is 0.
// Errors are those of picture.Decode and of the store.
func Take(ctx context.Context, s *store.Store, p store.Project, student uint64, filename string, b []byte) (taken Taken, err error) {
	err = intake.Use(b, func(img *image.RGBA) error {
		shot := photo.NewShot(img)
		tagged := photo.FindTags(shot)
		pic, files := intake.Keep(filename, img, bytes.HasPrefix(b, []byte("\x89PNG")), store.ForCheckIn)
		pic.TeacherID = p.TeacherID
		if err := s.AddPicture(ctx, &pic, files); err != nil {
			return err
		}
		t := taker{ctx, s, p, pic, shot, &taken}
		return t.take(tagged, student)
	})
	return taken, err
}

type taker struct {
	ctx     context.Context
	s       *store.Store
	project store.Project
	picture store.Picture
	shot    *photo.Shot
	taken   *Taken
}

func (t taker) take(tagged []photo.Tagged, student uint64) error {
	unknown := "No corner tags were found on it. Say whose drawing it is."
	for _, one := range tagged {
		p, known := t.project, true
		if one.Project != p.ID {
			other, err := t.s.Project(t.ctx, p.TeacherID, one.Project)
			if errors.Is(err, store.ErrNotFound) {
				known = false
			} else if err != nil {
				return err
			}
			p = other
		}
		if !known || !drawsIn(t.ctx, t.s, p, one.Student) {
			unknown = "Its corner tags name a project or a student that is not here. Say whose drawing it is."
			continue
		}
		corners := one.Corners
		if err := t.add(p, one.Student, &corners, photo.ByTags); err != nil {
			return err
		}
	}
	switch {
	case len(t.taken.CheckIns) > 0:
		return nil
	case student != 0:
		return t.add(t.project, student, nil, "")
	}
	stray := store.Stray{ProjectID: t.project.ID, PictureID: t.picture.ID, Words: unknown}
	t.taken.Stray = &stray
	return t.s.AddStray(t.ctx, &stray)
}

// drawsIn reports whether a student is of a class that draws a project.
func drawsIn(ctx context.Context, s *store.Store, p store.Project, student uint64) bool {
	return s.Belongs(ctx, p.TeacherID, p.ID, student) == nil
}

func (t taker) add(p store.Project, student uint64, corners *plane.Quad, by photo.FoundBy) error {
	j, err := Load(t.ctx, t.s, p, student)
	if err != nil {
		return err
	}
	c := store.CheckIn{ProjectID: p.ID, StudentID: student, PictureID: t.picture.ID, Corners: corners}
	if err := Measure(t.ctx, t.s, j, &c, by, t.shot); err != nil {
		return err
	}
	if err := t.s.AddCheckIn(t.ctx, p.TeacherID, &c); err != nil {
		return err
	}
	t.taken.CheckIns = append(t.taken.CheckIns, c)
	return nil
}

// Claim says whose drawing a waiting photo shows, and measures it.
func Claim(ctx context.Context, s *store.Store, p store.Project, x store.Stray, student uint64) (store.CheckIn, error) {
	file, err := s.PictureFile(ctx, p.TeacherID, x.PictureID, store.Full)
	if err != nil {
		return store.CheckIn{}, err
	}
	var taken Taken
	err = intake.Use(file.Bytes, func(img *image.RGBA) error {
		t := taker{ctx, s, p, x.Picture, photo.NewShot(img), &taken}
		return t.add(p, student, nil, "")
	})
	if err != nil {
		return store.CheckIn{}, err
	}
	return taken.CheckIns[0], s.RemoveStray(ctx, x)
}
