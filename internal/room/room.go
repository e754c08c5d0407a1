// Package room is the class at work: who has done which boxes, how fast they
// draw, who will be done in time, who needs the teacher first, and the school's
// own clock. It reads the store and asks core/lesson; it shows nothing.
package room

import (
	"context"
	"errors"
	"fmt"
	"image"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// Reader reads rooms from a store.
type Reader struct {
	store   *store.Store
	pixels  Pixels
	weighed *lru.Cache[weighing, []float64]
}

// Pixels returns one of a teacher's pictures, small, for its detail.
type Pixels func(ctx context.Context, teacher, picture uint64) (*image.RGBA, error)

// weighing is a plan over a picture: its boxes weigh the same as long as it stands.
type weighing struct {
	project uint64
	version int
	picture uint64
}

// mostWeighed plans keep their weights in memory, a few kilobytes each.
const mostWeighed = 256

// NewReader returns a reader of rooms. Without pixels every box weighs the same.
func NewReader(s *store.Store, pixels Pixels) *Reader {
	weighed, err := lru.New[weighing, []float64](mostWeighed)
	if err != nil {
		panic(err) // only for a size of 0
	}
	return &Reader{s, pixels, weighed}
}

// Room is a class at work on a project: everything that is known of it at a moment.
type Room struct {
	Project  store.Project
	Students []store.Student // by name
	Plans    plans.Set
	Road     lesson.Road
	State    store.RoadState
	Seats    map[uint64]store.Seated
	Lessons  []lesson.Lesson
	Clock    Clock
	Now      time.Time

	ticks   map[uint64][]store.Tick
	done    map[uint64]map[string]bool // of those whose ticks were looked through
	pace    lesson.Class
	weights []float64     // of the class plan's boxes
	cells   []grid.Cell   // the class plan's; nil until they were asked for
	needs   []lesson.Need // nil until they were asked for
}

// Load returns the class at work on a project that the caller has fetched with
// its class and plan. The error wraps plans.ErrNone where there is no plan yet.
func (rd *Reader) Load(ctx context.Context, p store.Project, clock Clock, now time.Time) (*Room, error) {
	plan, err := plans.Needed(ctx, rd.store, p)
	if err != nil {
		return nil, err
	}
	r := &Room{Project: p, Road: p.EffectiveRoad(), Lessons: LessonsOf(p.Class), Clock: clock, Now: now}
	if r.Plans, err = plans.Shown(ctx, rd.store, p, plan); err != nil {
		return nil, err
	}
	if r.ticks, err = rd.store.TickTimes(ctx, p.ID); err != nil {
		return nil, err
	}
	if r.State, err = rd.store.RoadState(ctx, p.ID, 0); err != nil {
		return nil, err
	}
	if p.Class != nil {
		r.Students = p.Class.Students
		if r.Seats, err = rd.store.Seats(ctx, p.ID, p.Class.ID, clock.Date(now)); err != nil {
			return nil, err
		}
	}
	if r.weights, err = rd.weigh(ctx, p, plan); err != nil {
		return nil, err
	}
	r.learn()
	return r, nil
}

// weighedSide is the longer side, in pixels, on which boxes are weighed: a plan that is kept
// waits for it.
const weighedSide = 800

// weigh returns how heavy the boxes of the class's plan are, by how hard each is to draw.
func (rd *Reader) weigh(ctx context.Context, p store.Project, plan grid.Plan) ([]float64, error) {
	if p.PictureID == nil || plan.Frame == nil || rd.pixels == nil {
		return lesson.Weights(nil, plan.Count()), nil
	}
	key := weighing{p.ID, p.PlanVersion, *p.PictureID}
	if w, ok := rd.weighed.Get(key); ok {
		return w, nil
	}
	w, err := rd.store.Weights(ctx, p)
	if err == nil {
		rd.weighed.Add(key, w)
	}
	if !errors.Is(err, store.ErrNotFound) {
		return w, err
	}
	img, err := rd.pixels(ctx, p.TeacherID, *p.PictureID)
	if err != nil {
		return nil, err
	}
	read, err := reading.Picture(plan, picture.Shrink(img, weighedSide), p.Picture.LineDrawing(), reading.Lines, reading.Thirds)
	if err != nil {
		return nil, err
	}
	w = lesson.Weights(read.Shares(), plan.Count())
	rd.weighed.Add(key, w)
	if err := rd.store.KeepWeights(ctx, p, w); err != nil && !store.NoRoom(err) {
		return nil, err
	}
	return w, nil // on a full disk they are reckoned again another time
}

// Weigh looks at the picture under a plan that was just kept, so that the first wall
// need not.
func (rd *Reader) Weigh(ctx context.Context, p store.Project) error {
	plan, err := plans.Needed(ctx, rd.store, p)
	if err == nil {
		_, err = rd.weigh(ctx, p, plan)
	}
	return err
}

// LessonsOf returns the lessons of a class that was fetched with its calendar,
// none without one.
func LessonsOf(c *store.Class) []lesson.Lesson {
	if c == nil || c.Calendar == nil {
		return nil
	}
	lessons, err := c.Calendar.Calendar.Lessons()
	if err != nil {
		return nil // it was checked when it was kept; nothing can be said with it now
	}
	return lessons
}

// Student returns a student of the class shown, or store.ErrNotFound.
func (r *Room) Student(id uint64) (store.Student, error) {
	for _, s := range r.Students {
		if s.ID == id {
			return s, nil
		}
	}
	return store.Student{}, fmt.Errorf("student %d in project %d: %w", id, r.Project.ID, store.ErrNotFound)
}

// Done returns what a student has ticked of what is counted: boxes of their present plan, or
// parts with names. It is not to be changed.
func (r *Room) Done(student uint64) map[string]bool {
	if done, there := r.done[student]; there {
		return done
	}
	ticked := map[string]bool{}
	for _, t := range r.ticks[student] {
		ticked[t.Label] = true
	}
	if r.done == nil {
		r.done = map[uint64]map[string]bool{}
	}
	r.done[student] = r.Plans.Done(student, ticked)
	return r.done[student]
}

// Cells returns the boxes of a student's plan, row by row, not to be changed.
func (r *Room) Cells(student uint64) []grid.Cell {
	if !r.Plans.IsClass(student) {
		return r.Plans.Of(student).Cells()
	}
	if r.cells == nil {
		r.cells = r.Plans.Class.Cells()
	}
	return r.cells
}

// Ticks returns when a student ticked which boxes, the first first.
func (r *Room) Ticks(student uint64) []store.Tick { return r.ticks[student] }

// Place returns where a student is on the road.
func (r *Room) Place(student uint64) lesson.Place {
	return r.Road.Where(r.Stages(student), r.State.VerdictsOf(student))
}

// Stages returns the stages that a student has done: a box that is ticked
// implies what comes before drawing.
func (r *Room) Stages(student uint64) map[lesson.StageID]bool {
	return r.Road.Implied(r.State.Done[student], len(r.Done(student)) > 0)
}
