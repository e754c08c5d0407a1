package kit

import (
	"context"
	"crypto/sha256"
	"fmt"
	"image"

	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
)

// Boxes returns what is in the boxes of a picture by a plan, by the lines and in the
// fractions that the project wants: read once and kept.
func (k *Kit) Boxes(ctx context.Context, p store.Project, plan grid.Plan, picture *store.Picture) (reading.Reading, error) {
	if picture == nil || plan.Frame == nil {
		return reading.Reading{}, Ask("Choose a picture for this project first: its boxes are read from it.")
	}
	text, err := grid.Encode(plan)
	if err != nil {
		return reading.Reading{}, err
	}
	return Once(k, func() (reading.Reading, error) { return press.ReadBoxes(ctx, k.Store, p, plan, picture) },
		picture.ID, picture.LineDrawing(), string(text), p.Finest, p.ReadBy)
}

// Hard returns how hard one of the teacher's pictures is to copy. It is looked at once, and kept.
func (k *Kit) Hard(ctx context.Context, teacher uint64, pic store.Picture) (reading.Hard, error) {
	if pic.Hard != nil {
		return *pic.Hard, nil
	}
	img, err := k.Pixels(ctx, teacher, pic.ID)
	if err != nil {
		return reading.Hard{}, err
	}
	h, err := reading.LookHard(img, pic.LineDrawing())
	if err == nil {
		if err = k.Store.KeepHard(ctx, teacher, pic.ID, h); store.NoRoom(err) {
			err = nil // it is looked at again another time
		}
	}
	return h, err
}

// measuredSide is how fine a picture is measured for contrast and detail: lines
// and forms are seen, grain is not.
const measuredSide = 800

// Pixels returns one of the teacher's pictures decoded for measuring. A
// picture's pixels never change, so the last few stay in memory.
func (k *Kit) Pixels(ctx context.Context, teacher, id uint64) (*image.RGBA, error) {
	if img, ok := k.measured.Get(id); ok {
		return img, nil
	}
	img, err := k.view(ctx, teacher, id, measuredSide)
	if err != nil {
		return nil, fmt.Errorf("picture %d, which was taken in: %w", id, err)
	}
	k.measured.Add(id, img)
	return img, nil
}

// mostReckoned is how much of what pages reckoned stays in memory, each as it is
// shown: of about 0.3 MB.
const mostReckoned = 64

// reckoned is what was reckoned, by the sum of what it depends on.
type reckoned struct {
	*lru.Cache[[sha256.Size]byte, any]
}

// Once returns what make makes, which is made once for the same parts and kept: they
// are all that it depends on, in words and numbers. What cannot be made is not kept.
func Once[T any](k *Kit, make func() (T, error), parts ...any) (T, error) {
	var of T
	key := sha256.Sum256(fmt.Appendf(nil, "%T %q", of, parts))
	if kept, there := k.reckoned.Get(key); there {
		return kept.(T), nil
	}
	made, err := make()
	if err == nil {
		k.reckoned.Add(key, made)
	}
	return made, err
}

// SumOf names a project's picture as its plan shows it, for Once: a picture's pixels
// never change, and a plan that is changed is another.
func SumOf(p store.Project, plan grid.Plan) string {
	text, err := grid.Encode(plan)
	if err != nil || p.Picture == nil {
		return fmt.Sprint("project ", p.ID, " version ", p.PlanVersion)
	}
	return fmt.Sprint(p.Picture.ID, p.Picture.LineDrawing(), p.Key(), string(text))
}
