package kit

import (
	"context"
	"fmt"
	"image"
	"time"

	"zestysketch/internal/core/colour"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
	"zestysketch/internal/store"
)

// framedSide is the longer side, in pixels, of a picture as its sheet will show it.
const framedSide = 1200

// Framed returns what a plan shows of a picture, stretched to the sheet as the
// drawing will be, and how many pixels are a millimetre of the sheet. Where
// there is no picture it asks for one.
func (k *Kit) Framed(ctx context.Context, teacher uint64, id *uint64, plan grid.Plan) (*image.RGBA, float64, error) {
	if id == nil || plan.Frame == nil {
		return nil, 0, Ask("Choose a picture for this project first: this is made of it.")
	}
	f, key := photo.SheetFrame(plan, framedSide), framedKey(*id, plan)
	if img, ok := k.framed.Get(key); ok {
		return img, f.PerMM, nil
	}
	file, err := k.Store.PictureFile(ctx, teacher, *id, store.View)
	if err != nil {
		return nil, 0, err
	}
	var img *image.RGBA
	err = intake.Use(ctx, file.Bytes, func(shot *image.RGBA) error {
		img = photo.Wanted(plan, photo.NewShot(shot), f)
		return nil
	})
	if err != nil {
		return nil, 0, err
	}
	k.framed.Add(key, img)
	return img, f.PerMM, nil
}

func framedKey(id uint64, plan grid.Plan) string {
	return fmt.Sprint(id, *plan.Frame, plan.Sheet.Width, plan.Sheet.Height)
}

// betweenFramed is how long nobody makes a picture for what is only nice to have, after one
// was made: forty classes that begin at once would do nothing else.
const betweenFramed = 2 * time.Second

// FramedIfQuick is Framed where that costs little just now: the picture is in memory, or
// nobody has made one lately. ok is false where it is better left out.
func (k *Kit) FramedIfQuick(ctx context.Context, teacher uint64, id *uint64, plan grid.Plan) (img *image.RGBA, perMM float64, ok bool, err error) {
	if id != nil && plan.Frame != nil && !k.framed.Contains(framedKey(*id, plan)) {
		now := time.Now().UnixNano()
		if last := k.madeFramed.Load(); now-last < int64(betweenFramed) || !k.madeFramed.CompareAndSwap(last, now) {
			return nil, 0, false, nil
		}
	}
	img, perMM, err = k.Framed(ctx, teacher, id, plan)
	return img, perMM, err == nil, err
}

// Whole returns all of a picture, and how many pixels are a millimetre at the
// size of the plan's drawing.
func (k *Kit) Whole(ctx context.Context, teacher uint64, id *uint64, plan grid.Plan) (*image.RGBA, float64, error) {
	if id == nil || plan.Frame == nil {
		return nil, 0, Ask("Choose a picture for this project first: this is made of it.")
	}
	img, err := k.all(ctx, teacher, *id)
	if err != nil {
		return nil, 0, err
	}
	return img, float64(img.Rect.Dx()) / float64(plan.Frame.Picture[0]) * plan.Frame.Size[0] / plan.Sheet.Width, nil
}

// all returns all of a picture, which is kept in memory for a while.
func (k *Kit) all(ctx context.Context, teacher, id uint64) (*image.RGBA, error) {
	key := fmt.Sprint("all of ", id)
	img, there := k.framed.Get(key)
	if there {
		return img, nil
	}
	img, err := k.view(ctx, teacher, id, framedSide)
	if err == nil {
		k.framed.Add(key, img)
	}
	return img, err
}

// composedSide is the longer side, in pixels, at which a frame's balance is looked at.
const composedSide = 400

// Composed returns how what a frame shows of a picture lies in it. It is looked at once.
func (k *Kit) Composed(ctx context.Context, teacher, id uint64, f grid.Frame) (colour.Composed, error) {
	return Once(k, func() (c colour.Composed, err error) {
		img, err := k.all(ctx, teacher, id)
		if err != nil {
			return c, err
		}
		small := float64(img.Rect.Dx()) / float64(f.Picture[0])
		shrunk := composedSide / max(f.Size[0], f.Size[1])
		corners := plane.Quad(f.Corners())
		for i := range corners {
			corners[i] = corners[i].Mul(small)
		}
		shown, err := picture.Framed(img, corners, f.Mirror, max(16, int(f.Size[0]*shrunk)), max(16, int(f.Size[1]*shrunk)))
		if err != nil {
			return c, err
		}
		return colour.Compose(shown), nil
	}, id, f.String())
}

// view returns a picture from what the screen shows, its longer side at most side pixels.
func (k *Kit) view(ctx context.Context, teacher, id uint64, side int) (*image.RGBA, error) {
	file, err := k.Store.PictureFile(ctx, teacher, id, store.View)
	if err != nil {
		return nil, err
	}
	return intake.Small(ctx, file.Bytes, side)
}
