package kit

import (
	"context"
	"fmt"
	"image"
)

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
