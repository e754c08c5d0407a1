package measure

import (
	"errors"
	"fmt"
	"math"
)

// ErrRoom is wrapped by the error of a final sheet that is too small.
var ErrRoom = errors.New("not enough room")

// Part says what of a picture is gridded, as printed: the whole, and the
// gridded part's corner and size in it. The part may be the whole.
type Part struct {
	Whole Size
	X, Y  Length
	Size  Size
}

// Placing is where the gridded part's drawing stands on a larger final sheet.
type Placing struct {
	X, Y   Length // its top left corner on the final sheet
	Size   Size   // of the gridded part
	Whole  Size   // of the whole drawing
	WholeX Length // and its corner
	WholeY Length
	Strip  Length // kept free at the bottom
}

// PlaceOn sets a drawing enlarged by scale on a final sheet so that the whole
// picture fits inside the margins and above a strip kept free for trying
// materials, centred in what is left. Errors wrap ErrRoom and say what scale
// would fit.
func PlaceOn(final Size, p Part, scale float64, margin, strip Length, u Unit) (Placing, error) {
	room := Size{final.W - 2*margin, final.H - 2*margin - strip}
	whole := p.Whole.Scale(scale)
	if room.W <= 0 || room.H <= 0 {
		return Placing{}, fmt.Errorf("%w: margins and strip leave nothing of the %s sheet; make them smaller", ErrRoom, final.Text(u))
	}
	if !room.Holds(whole) {
		most := math.Floor(min(float64(room.W/p.Whole.W), float64(room.H/p.Whole.H))*100) / 100 // what is typed after it fits
		return Placing{}, fmt.Errorf("%w: the whole picture would be %s, but %s is free; enlarge by at most %.2f or take a larger sheet",
			ErrRoom, whole.Text(u), room.Text(u), most)
	}
	x, y := margin+(room.W-whole.W)/2, margin+(room.H-whole.H)/2
	k := Length(scale)
	return Placing{X: x + p.X*k, Y: y + p.Y*k, Size: p.Size.Scale(scale), Whole: whole, WholeX: x, WholeY: y, Strip: strip}, nil
}
