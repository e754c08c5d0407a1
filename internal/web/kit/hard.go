package kit

import (
	"context"

	"zestysketch/internal/core/reading"
	"zestysketch/internal/store"
)

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
