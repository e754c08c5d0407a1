package press

import (
	"bytes"
	"context"
	"errors"
	"strings"
	"time"

	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/work"
)

var errCancelled = errors.New("cancelled")

// Make makes a queued class set; it is a work.Maker.
func Make(ctx context.Context, s *store.Store, job store.Job) error {
	file, message, err := file(ctx, s, job)
	if errors.Is(err, errCancelled) {
		return nil
	}
	if err != nil {
		return final(err)
	}
	return s.FinishSet(ctx, job.ID, file, message)
}

// final says in a person's words why a set cannot be made. What is wrong with the
// database now may be right the next time.
func final(err error) error {
	if store.Away(err) || store.NoRoom(err) {
		return err
	}
	return work.Final{Words: work.Said(err)}
}

func file(ctx context.Context, s *store.Store, job store.Job) (file []byte, message string, err error) {
	spec, err := Parse(job.Spec)
	if err != nil {
		return nil, "", err
	}
	p, err := s.AnyProject(ctx, job.ProjectID, spec.Class)
	if err != nil {
		return nil, "", err
	}
	set, err := Load(ctx, s, p, spec)
	if err != nil {
		return nil, "", err
	}
	beat := time.Time{}
	made, err := set.Make(ctx, spec, func(done, total int) error {
		if time.Since(beat) < 100*time.Millisecond && done < total {
			return nil
		}
		beat = time.Now()
		going, err := s.Progress(ctx, job.ID, done, total)
		if err == nil && !going {
			err = errCancelled
		}
		return err
	})
	if err != nil {
		return nil, "", err
	}
	pictures, err := Files(ctx, s, p.TeacherID, made, store.Full)
	if err != nil {
		return nil, "", err
	}
	var out bytes.Buffer
	if err := render.PDF(&out, p.Name, made.Pages, pictures); err != nil {
		return nil, "", err
	}
	if len(made.Left) > 0 {
		message = "Left out: " + strings.Join(made.Left, "; ") + "."
	}
	return out.Bytes(), message, nil
}
