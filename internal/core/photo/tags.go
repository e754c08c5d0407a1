package photo

import (
	"image"
	"math"
	"slices"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/multi/qrcode"

	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// Tagged is one drawing found by its corner tags.
type Tagged struct {
	Project, Student uint64
	Corners          plane.Quad // the tips of the tags' arrows, photo pixels
	Seen             [4]bool    // which tags were read; a corner without is reckoned from the others
	Module           float64    // pixels a module of its codes: fewer than 3 read badly
}

// Whole reports whether all four tags were read.
func (t Tagged) Whole() bool { return t.Seen == [4]bool{true, true, true, true} }

// tagsSide is the longer side, in pixels, on which tags are looked for first;
// where too few are read, the whole photo is searched.
const tagsSide = 2000

// code is one tag as it was read: the centres of its three finder patterns, in
// photo pixels: top left, top right, bottom left of the code.
type code struct {
	tag     Tag
	centres [3]plane.Point
	modules float64 // along a side
}

// By returns how the drawing was found.
func (t Tagged) By() FoundBy {
	if slices.Contains(t.Seen[:], false) {
		return ByThree
	}
	return ByTags
}

// FindTags returns the drawings whose corner tags a photo shows, in the order
// in which they were found; those with fewer than three tags are left out, for
// three corners are the fewest that tell the fourth.
func FindTags(s *Shot) []Tagged {
	longer := s.Longer()
	byWhom := map[[2]uint64]*[4]*code{}
	var order [][2]uint64
	add := func(found []code, k float64, from plane.Point) {
		for _, c := range found {
			who := [2]uint64{c.tag.Project, c.tag.Student}
			if byWhom[who] == nil {
				byWhom[who] = &[4]*code{}
				order = append(order, who)
			}
			if byWhom[who][c.tag.Corner] == nil {
				c.sharpen(s.Full, k, from)
				byWhom[who][c.tag.Corner] = &c
			}
		}
	}
	add(readCodes(s.shrunk(tagsSide)), float64(longer)/float64(min(longer, tagsSide)), plane.Point{})
	enough := len(order) > 0
	for _, four := range byWhom {
		_, ok := assemble(*four)
		enough = enough && ok
	}
	if !enough && longer > tagsSide {
		add(readCodes(s.Full), 1, plane.Point{})
	}
	var found []Tagged
	for _, who := range order {
		t, ok := assemble(*byWhom[who])
		for i := range t.Seen {
			if ok && !t.Seen[i] { // look again where it must be, in the photo itself
				part, at := around(s.Full, t.Corners[i], t.Module)
				add(readCodes(part), 1, at)
			}
		}
		if ok && !t.Whole() {
			t, ok = assemble(*byWhom[who])
		}
		if ok {
			t.Project, t.Student = who[0], who[1]
			found = append(found, t)
		}
	}
	return found
}

// around returns the part of a photo that is about two tags large to every side
// of a place, and where it begins.
func around(img *image.RGBA, at plane.Point, module float64) (*image.RGBA, plane.Point) {
	r := int(2 * TagSide / TagCode * 21 * module)
	part := image.Rect(int(at.X)-r, int(at.Y)-r, int(at.X)+r, int(at.Y)+r).Intersect(img.Rect)
	return crop(img, part), plane.Pt(float64(part.Min.X), float64(part.Min.Y))
}

// readCodes returns the tags among the QR codes of a picture, placed in the
// pixels of the whole photo, of which the picture may be a smaller rendering.
func readCodes(img *image.RGBA) (codes []code) {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	grey := make([]byte, w*h)
	for y := range h {
		row, out := img.Pix[y*img.Stride:y*img.Stride+4*w], grey[y*w:(y+1)*w]
		for x := range out {
			p := row[4*x : 4*x+4 : 4*x+4]
			out[x] = byte((54*uint(p[0]) + 183*uint(p[1]) + 19*uint(p[2])) >> 8)
		}
	}
	source, err := gozxing.NewPlanarYUVLuminanceSource(grey, w, h, 0, 0, w, h, false)
	if err != nil {
		return nil
	}
	bitmap, err := gozxing.NewBinaryBitmap(gozxing.NewHybridBinarizer(source))
	if err != nil {
		return nil
	}
	hints := map[gozxing.DecodeHintType]any{gozxing.DecodeHintType_TRY_HARDER: true}
	results, err := qrcode.NewQRCodeMultiReader().DecodeMultiple(bitmap, hints)
	if err != nil {
		return nil // nothing found
	}
	for _, r := range results {
		tag, ok := ParseTag(r.GetText())
		points := r.GetResultPoints() // bottom left, top left, top right
		if !ok || len(points) < 3 {
			continue
		}
		at := func(i int) plane.Point { return plane.Pt(points[i].GetX(), points[i].GetY()) }
		codes = append(codes, code{tag, [3]plane.Point{at(1), at(2), at(0)}, float64(tag.Modules())})
	}
	return codes
}

// sharpen finds each finder pattern's centre to a part of a pixel on the whole
// photo, which is k times as large as where the code was read and begins that
// far before it: the centre of gravity of its dark middle, three modules broad.
func (c *code) sharpen(img *image.RGBA, k float64, from plane.Point) {
	for i := range c.centres {
		c.centres[i].X = c.centres[i].X*k + from.X
		c.centres[i].Y = c.centres[i].Y*k + from.Y
	}
	module := c.centres[1].Sub(c.centres[0]).Len() / (c.modules - 7)
	for i := range c.centres {
		c.centres[i] = gravity(img, c.centres[i], module)
	}
}

// gravity returns the centre of the dark blob at a place; the place itself
// where there is none of about three modules a side.
func gravity(img *image.RGBA, at plane.Point, module float64) plane.Point {
	r := int(math.Ceil(2.4 * module))
	x0, y0 := int(at.X)-r, int(at.Y)-r
	side := 2*r + 1
	if x0 < 0 || y0 < 0 || x0+side > img.Rect.Dx() || y0+side > img.Rect.Dy() {
		return at
	}
	values := lines.Grey(crop(img, image.Rect(x0, y0, x0+side, y0+side)))
	limit := float32(lines.Otsu(values.Pix))
	seen := make([]bool, side*side)
	todo := []int{r*side + r}
	seen[todo[0]] = true
	var sum, mx, my float64
	for len(todo) > 0 {
		p := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		x, y := p%side, p/side
		w := float64(limit - values.Pix[p])
		if w <= 0 {
			continue
		}
		if x == 0 || y == 0 || x == side-1 || y == side-1 {
			return at // it runs out of the pattern's middle
		}
		sum += w
		mx += w * (float64(x) + 0.5)
		my += w * (float64(y) + 0.5)
		for _, q := range [4]int{p - 1, p + 1, p - side, p + side} {
			if !seen[q] {
				seen[q] = true
				todo = append(todo, q)
			}
		}
	}
	if sum == 0 {
		return at
	}
	return plane.Pt(float64(x0)+mx/sum, float64(y0)+my/sum)
}

func crop(img *image.RGBA, r image.Rectangle) *image.RGBA {
	part := img.SubImage(r).(*image.RGBA)
	return &image.RGBA{Pix: part.Pix, Stride: part.Stride, Rect: image.Rect(0, 0, r.Dx(), r.Dy())}
}

// tip returns where the tag's pointing corner lies, given where the centres of
// its finder patterns lie on a plane: the tag is flat, so that three points
// carry it there.
func (c code) tip(centres [3]plane.Point) plane.Point {
	tip, at := TagTip(c.tag.Corner)
	first := TagCode * 3.5 / c.modules // from the code's corner to the first centre
	between := TagCode - 2*first
	u, v := (tip.X-at.X-first)/between, (tip.Y-at.Y-first)/between
	o, x, y := centres[0], centres[1], centres[2]
	return plane.Pt(o.X+u*(x.X-o.X)+v*(y.X-o.X), o.Y+u*(x.Y-o.Y)+v*(y.Y-o.Y))
}

// assemble returns the corners that a drawing's tags point to. Each tag alone
// is carried to its tip as if the camera looked straight on; then the four
// tips say how it looked, and the tags are read again on the sheet's own plane.
func assemble(four [4]*code) (t Tagged, ok bool) {
	n := 0
	for i, c := range four {
		if c != nil {
			t.Seen[i] = true
			t.Corners[i] = c.tip(c.centres)
			t.Module += c.centres[1].Sub(c.centres[0]).Len() / (c.modules - 7)
			n++
		}
	}
	if n < 3 {
		return t, false
	}
	t.Module /= float64(n)
	for i := range four {
		if four[i] == nil { // the fourth corner of a parallelogram
			a, b, c := t.Corners[(i+3)%4], t.Corners[(i+1)%4], t.Corners[(i+2)%4]
			t.Corners[i] = plane.Pt(a.X+b.X-c.X, a.Y+b.Y-c.Y)
		}
	}
	for range 2 {
		flat := plane.Box(1, 1)
		toFlat, err := picture.NewHomography(t.Corners, flat)
		if err != nil {
			return t, false
		}
		back, err := picture.NewHomography(flat, t.Corners)
		if err != nil {
			return t, false
		}
		for i, c := range four {
			if c == nil {
				continue
			}
			centres := c.centres
			for k := range centres {
				centres[k] = toFlat.Apply(centres[k])
			}
			t.Corners[i] = back.Apply(c.tip(centres))
		}
	}
	return t, t.Corners.Check() == nil
}
