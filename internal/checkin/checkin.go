// Package checkin takes photographs of drawings in: whose they are, what is
// measured on them, and where they are kept.
package checkin

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"image"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
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
	fmt.Fprint(h, j.Project.Looseness, j.Project.Compare, j.Project.FreeBoxes)
	return h.Sum32()
}

// Fresh reports whether a check-in's measures are of the job as it now is.
func (j Job) Fresh(c store.CheckIn) bool { return c.Gist != nil && c.PlanSum == j.sum() }

// Latest returns, of check-ins in the order of lists, the newest first, each student's last one that was
// measured and counts, in short.
func Latest(list []store.CheckIn, counts func(store.CheckIn) bool) (latest []accuracy.Gist) {
	seen := map[uint64]bool{}
	for _, c := range list {
		if c.Gist == nil || !c.Gist.Measured || seen[c.StudentID] || !counts(c) {
			continue
		}
		seen[c.StudentID] = true
		latest = append(latest, *c.Gist)
	}
	return latest
}

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
		Free: strings.Fields(j.Project.FreeBoxes),
	}
	if work.Compare == accuracy.Views {
		if work.Heights, err = heights(ctx, s, j.Project.ID); err != nil {
			return err
		}
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

// heights returns the named heights that are pressed on a project's views, each by the first view that has it.
func heights(ctx context.Context, s *store.Store, project uint64) (all []accuracy.Height, err error) {
	views, err := s.Views(ctx, project)
	if err != nil {
		return nil, err
	}
	marks, err := s.LandmarksOfAll(ctx, project)
	if err != nil {
		return nil, err
	}
	for _, v := range views {
		for _, m := range marks[v.PictureID] {
			known := slices.ContainsFunc(all, func(h accuracy.Height) bool { return h.Name == m.Name })
			if share := (m.Y - v.TopY) / (v.BottomY - v.TopY); v.Pressed && !known && share > 0 && share < 1 {
				all = append(all, accuracy.Height{Name: m.Name, Share: share})
			}
		}
	}
	return all, nil
}

// Shapes compares shapes that the picture's lines close, as reading's gaps are, with what
// was drawn of them on a check-in's photo.
func Shapes(ctx context.Context, s *store.Store, j Job, c store.CheckIn, rings []plane.Ring) (all []accuracy.Shaped, err error) {
	err = j.withPhoto(ctx, s, c, func(of accuracy.Job) error {
		all, err = accuracy.CompareShapes(of, rings)
		return err
	})
	return all, err
}

// Retraced says which lines were gone over in a second colour on a check-in's photo, and whether any colour shows.
func Retraced(ctx context.Context, s *store.Store, j Job, c store.CheckIn, lines []finish.Named) (all []accuracy.GoneOver, coloured bool, err error) {
	err = j.withPhoto(ctx, s, c, func(of accuracy.Job) error {
		all, coloured, err = accuracy.Retraced(of, lines)
		return err
	})
	return all, coloured, err
}

// withPhoto opens a measured check-in's photo once more.
func (j Job) withPhoto(ctx context.Context, s *store.Store, c store.CheckIn, use func(accuracy.Job) error) error {
	ref, err := j.reference(ctx, s)
	if err != nil {
		return err
	}
	file, err := s.PictureFile(ctx, j.Project.TeacherID, c.PictureID, store.Full)
	if err != nil {
		return err
	}
	return intake.Use(ctx, file.Bytes, func(img *image.RGBA) error {
		return use(accuracy.Job{Plan: j.Plan, Reference: ref, Tonal: ref != nil && !j.Picture.LineDrawing(),
			Photo: photo.NewShot(img), Corners: c.Corners, FoundBy: c.Report.FoundBy})
	})
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
	img, err := intake.Small(ctx, file.Bytes, straightSide)
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
	return intake.Use(ctx, file.Bytes, func(img *image.RGBA) error {
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
// The photo and what hangs on it are kept together or not at all. A photo that
// was taken in before changes nothing. Errors are those of intake.Use and of the
// store.
func Take(ctx context.Context, s *store.Store, p store.Project, student uint64, filename string, b []byte) (Taken, error) {
	return takeAnd(ctx, s, p, student, filename, b, func(*store.Store, Taken) error { return nil })
}

// takeAnd is Take, with something more to keep in the same change.
func takeAnd(ctx context.Context, s *store.Store, p store.Project, student uint64, filename string, b []byte, and func(*store.Store, Taken) error) (taken Taken, err error) {
	var t taker
	var files []store.PictureFile
	err = intake.Use(ctx, b, func(img *image.RGBA) error {
		t = taker{ctx: ctx, s: s, project: p, shot: photo.NewShot(img)}
		defer func() { t.shot = nil }()
		tagged := photo.FindTags(t.shot)
		t.picture, files = intake.Keep(filename, img, b, store.ForCheckIn)
		t.picture.TeacherID = p.TeacherID
		return t.take(tagged, student)
	})
	if err != nil {
		return Taken{}, err
	}
	err = s.Transaction(ctx, func(s *store.Store) error {
		var err error
		if taken, err = t.keep(s, files); err != nil {
			return err
		}
		return and(s, taken)
	})
	return taken, err
}

// taker is one photo with what was found on it, to be kept.
type taker struct {
	ctx     context.Context
	s       *store.Store
	project store.Project
	picture store.Picture
	shot    *photo.Shot
	found   Taken
}

// take finds whose drawings a photo shows, and measures them.
func (t *taker) take(tagged []photo.Tagged, student uint64) error {
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
		if err := t.add(p, one.Student, &corners, one.By()); err != nil {
			return err
		}
	}
	switch {
	case len(t.found.CheckIns) > 0:
		return nil
	case student != 0:
		return t.add(t.project, student, nil, "")
	}
	t.found.Stray = &store.Stray{ProjectID: t.project.ID, Words: unknown}
	return nil
}

// keep keeps the photo and what was found on it in a transaction of the store,
// or returns what is there of the same photo already.
func (t *taker) keep(s *store.Store, files []store.PictureFile) (Taken, error) {
	if x := t.found.Stray; x != nil {
		there, err := s.StrayOfPhoto(t.ctx, t.project.ID, t.picture.Hash)
		if err == nil {
			return Taken{Stray: &there}, nil
		}
		if !errors.Is(err, store.ErrNotFound) {
			return Taken{}, err
		}
	}
	var kept Taken
	var fresh []store.CheckIn
	for _, c := range t.found.CheckIns {
		there, err := s.CheckInOfPhoto(t.ctx, c.ProjectID, c.StudentID, t.picture.Hash)
		switch {
		case err == nil:
			kept.CheckIns = append(kept.CheckIns, there)
		case errors.Is(err, store.ErrNotFound):
			fresh = append(fresh, c)
		default:
			return Taken{}, err
		}
	}
	if t.found.Stray == nil && fresh == nil {
		return kept, nil
	}
	pic := t.picture
	if err := s.AddPicture(t.ctx, &pic, files); err != nil {
		return Taken{}, err
	}
	for _, c := range fresh {
		c.PictureID = pic.ID
		if err := s.AddCheckIn(t.ctx, pic.TeacherID, &c); err != nil {
			return Taken{}, err
		}
		kept.CheckIns = append(kept.CheckIns, c)
	}
	if x := t.found.Stray; x != nil {
		stray := *x
		stray.PictureID = pic.ID
		kept.Stray = &stray
		return kept, s.AddStray(t.ctx, kept.Stray)
	}
	return kept, nil
}

// drawsIn reports whether a student is of a class that draws a project.
func drawsIn(ctx context.Context, s *store.Store, p store.Project, student uint64) bool {
	return s.Belongs(ctx, p.TeacherID, p.ID, student) == nil
}

// add measures a student's drawing on the photo.
func (t *taker) add(p store.Project, student uint64, corners *plane.Quad, by photo.FoundBy) error {
	j, err := Load(t.ctx, t.s, p, student)
	if err != nil {
		return err
	}
	c := store.CheckIn{ProjectID: p.ID, StudentID: student, PictureID: t.picture.ID, Corners: corners}
	if err := Measure(t.ctx, t.s, j, &c, by, t.shot); err != nil {
		return err
	}
	t.found.CheckIns = append(t.found.CheckIns, c)
	return nil
}

// Claim says whose drawing a waiting photo shows, and measures it.
func Claim(ctx context.Context, s *store.Store, p store.Project, x store.Stray, student uint64) (c store.CheckIn, err error) {
	file, err := s.PictureFile(ctx, p.TeacherID, x.PictureID, store.Full)
	if err != nil {
		return c, err
	}
	t := taker{ctx: ctx, s: s, project: p, picture: x.Picture}
	err = intake.Use(ctx, file.Bytes, func(img *image.RGBA) error {
		t.shot = photo.NewShot(img)
		defer func() { t.shot = nil }()
		return t.add(p, student, nil, "")
	})
	if err != nil {
		return c, err
	}
	c = t.found.CheckIns[0]
	err = s.Transaction(ctx, func(s *store.Store) error {
		if err := s.AddCheckIn(ctx, p.TeacherID, &c); err != nil {
			return err
		}
		return s.RemoveStray(ctx, x)
	})
	return c, err
}
