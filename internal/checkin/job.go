package checkin

import (
	"context"
	"encoding/json"
	"errors"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/work"
)

// Handed is what is known of a photo that was handed in: the spec of its job.
type Handed struct {
	Name    string `json:"name"`              // of its file, as the person knows it
	Student uint64 `json:"student,omitempty"` // whose it is said to be, 0 where its tags say so
	Class   uint64 `json:"class,omitempty"`   // of those that draw the project, 0 for the first
	Own     bool   `json:"own,omitempty"`     // its student handed it in
}

// JSON returns what is kept with the job.
func (h Handed) JSON() string {
	b, _ := json.Marshal(h) // words and numbers: cannot fail
	return string(b)
}

// HandedOf reads a job's spec.
func HandedOf(job store.Job) (h Handed, err error) {
	err = json.Unmarshal([]byte(job.Spec), &h)
	return h, err
}

// Queue queues a photo to be measured. Its header is looked at first: errors are
// those of picture.Cost and of the store. Somebody waits for an urgent one.
func Queue(ctx context.Context, s *store.Store, p store.Project, h Handed, photo []byte, urgent bool) (store.Job, error) {
	if _, err := picture.Cost(photo); err != nil {
		return store.Job{}, err
	}
	if bare, _, ok := picture.Bare(photo); ok { // where it was taken is not kept, for a minute neither
		photo = bare
	}
	job := store.Job{ProjectID: p.ID, Spec: h.JSON(), Urgent: urgent}
	err := s.AddPhoto(ctx, p.TeacherID, &job, photo)
	return job, err
}

// Make measures a queued photo; it is a work.Maker.
func Make(ctx context.Context, s *store.Store, job store.Job) error {
	h, err := HandedOf(job)
	if err != nil {
		return work.Final{Words: "What was handed in cannot be read. Send it again."}
	}
	photo, err := s.PhotoOf(ctx, job.ID)
	if err != nil {
		return err
	}
	p, err := s.AnyProject(ctx, job.ProjectID, h.Class)
	if err != nil {
		return err
	}
	if h.Student != 0 {
		if err := s.Belongs(ctx, p.TeacherID, p.ID, h.Student); errors.Is(err, store.ErrNotFound) {
			return work.Final{Words: "the student it was sent for is not in the class any more. Send it again for another."}
		} else if err != nil {
			return err
		}
	}
	_, err = takeAnd(ctx, s, p, h.Student, h.Name, photo, func(s *store.Store, taken Taken) error {
		if h.Own {
			if err := ownOnly(h.Student, taken); err != nil {
				return err
			}
		}
		return s.FinishPhoto(ctx, job, lines(taken))
	})
	switch {
	case errors.Is(err, store.ErrConflict):
		return nil // it was thrown away meanwhile
	case picture.Unreadable(err):
		return work.Final{Words: err.Error() + "."}
	case errors.Is(err, accuracy.ErrLandmarks):
		return work.Final{Words: work.Said(err) + "."}
	case errors.Is(err, plans.ErrNone):
		return work.Final{Words: "the project has no plan. Keep a plan first, then send it again."}
	}
	return err
}

// ownOnly refuses what a student handed in that is no drawing of theirs: it is not kept.
func ownOnly(student uint64, taken Taken) error {
	if taken.Stray != nil {
		return work.Final{Words: "The corner tags on it are another drawing’s. Hand in a photo of your own."}
	}
	for _, c := range taken.CheckIns {
		switch {
		case c.StudentID != student:
			return work.Final{Words: "The corner tags on it say that this is somebody else’s drawing. Hand in a photo of your own."}
		case c.Report == nil:
			return work.Final{Words: "No drawing was found on it. Only the drawing, please: the whole sheet, from above, in even light."}
		case !c.Report.Measured && !c.Report.Ask:
			return work.Final{Words: c.Report.Why + " Only the drawing, please: the whole sheet, from above."}
		}
	}
	return nil
}

// lines says of each drawing on a photo what came of it.
func lines(taken Taken) (all []store.JobLine) {
	if taken.Stray != nil {
		return []store.JobLine{{Words: taken.Stray.Words}}
	}
	for _, c := range taken.CheckIns {
		words := "Set its four corners."
		if c.Report != nil {
			words = c.Report.Say[0]
		}
		all = append(all, store.JobLine{Words: words, CheckIn: c.ID})
	}
	return all
}
