package tiles

import (
	"image"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// move is a tile on its way: its box and the middles of its home and of its
// place, millimetres on the reference.
type move struct {
	Slot
	home     plane.Rect
	from, to plane.Point
}

// moves returns where every tile of a plan's grid goes, by its home, row by row.
func (m Map) moves(p grid.Plan) []move {
	all := make([]move, p.Count())
	for _, place := range m.Places {
		to, ok1 := p.Find(place.Label)
		from, ok2 := p.Find(place.Tile)
		if ok1 && ok2 {
			all[from.Row*p.Grid.Columns+from.Column] = move{place, from.Reference, from.Reference.Middle(), to.Reference.Middle()}
		}
	}
	return all
}

// laid returns where a point of the tile comes to lie: it is flipped first,
// then turned clockwise.
func (k *move) laid(at plane.Point) plane.Point {
	x, y := at.X-k.from.X, at.Y-k.from.Y
	if k.Flip {
		x = -x
	}
	for range k.Turn / 90 {
		x, y = -y, x
	}
	return plane.Pt(k.to.X+x, k.to.Y+y)
}

// taken returns from where on the picture a point of the tile's place comes: what laid does,
// undone.
func (k *move) taken(at plane.Point) plane.Point {
	x, y := at.X-k.to.X, at.Y-k.to.Y
	for range k.Turn / 90 {
		x, y = y, -x
	}
	if k.Flip {
		x = -x
	}
	return plane.Pt(k.from.X+x, k.from.Y+y)
}

// Lines returns the lines of a picture after the rearrangement: cut at the
// boxes' edges and laid where each tile goes. Lines are runs of points,
// millimetres on the reference.
func (m Map) Lines(p grid.Plan, runs [][]plane.Point) (out [][]plane.Point) {
	for _, k := range m.moves(p) {
		for _, run := range runs {
			for _, piece := range inside(run, k.home) {
				for i, at := range piece {
					piece[i] = k.laid(at)
				}
				out = append(out, piece)
			}
		}
	}
	return out
}

// inside returns the pieces of a run that lie in a box; they end on its edges
// where the run goes on.
func inside(run []plane.Point, r plane.Rect) (pieces [][]plane.Point) {
	var piece []plane.Point
	flush := func() {
		if len(piece) > 1 {
			pieces = append(pieces, piece)
		}
		piece = nil
	}
	for i := 1; i < len(run); i++ {
		a, b, ok := r.Cut(run[i-1], run[i])
		if !ok || a == b {
			flush()
			continue
		}
		if len(piece) == 0 || piece[len(piece)-1] != a {
			flush()
			piece = []plane.Point{a}
		}
		if piece = append(piece, b); b != run[i] {
			flush()
		}
	}
	flush()
	return pieces
}

// Arrange returns the picture, which fills img, with its tiles in their new places; both
// are as large.
func (m Map) Arrange(img *image.RGBA, p grid.Plan) *image.RGBA {
	home, there := m.moves(p), make([]move, p.Count())
	for _, k := range home {
		if to, ok := p.Find(k.Label); ok {
			there[to.Row*p.Grid.Columns+to.Column] = k
		}
	}
	return carried(img, p, func(i int, mm plane.Point) plane.Point { return there[i].taken(mm) })
}

// Restore returns the picture put back together from the rearranged one, which
// is seen straight on and fills img; both are as large.
func (m Map) Restore(img *image.RGBA, p grid.Plan) *image.RGBA {
	home := m.moves(p)
	return carried(img, p, func(i int, mm plane.Point) plane.Point { return home[i].laid(mm) })
}

// carried returns a picture whose points are fetched from where from says, by the box in
// which they lie, row by row; places are millimetres on the reference.
func carried(img *image.RGBA, p grid.Plan, from func(box int, mm plane.Point) plane.Point) *image.RGBA {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	kx, ky := float64(w)/p.Reference.Width, float64(h)/p.Reference.Height
	return picture.Warp(img, func(px plane.Point) plane.Point {
		mm := plane.Pt(px.X/kx, px.Y/ky)
		column, row := p.StripsAt(p.ToSheet(mm))
		at := from(row*p.Grid.Columns+column, mm)
		return plane.Pt(kx*at.X, ky*at.Y)
	}, w, h, 1)
}

// SeedFor returns the seed of one student's rearrangement in a project: another
// for everybody, the same every time (the finalizer of SplitMix64: Steele, Lea
// and Flood 2014, OOPSLA).
func SeedFor(project, student uint64) uint64 {
	z := project*0x9e3779b97f4a7c15 + student
	z = (z ^ z>>30) * 0xbf58476d1ce4e5b9
	z = (z ^ z>>27) * 0x94d049bb133111eb
	return (z ^ z>>31) >> 40 // few figures, to be read out
}

// How says in words how a tile is traced, laid and pressed through. Pressing mirrors: lines
// drawn on the back as well come out as they were.
func (p Slot) How() string {
	turn := map[int]string{90: ", a quarter turn to the right", 180: ", half a turn", 270: ", a quarter turn to the left"}[p.Turn]
	if p.Flip {
		return "Trace. Lay it face down" + turn + ". Press: it comes out mirrored, as it must."
	}
	return "Trace on both sides. Lay it face up" + turn + ". Press: it comes out as it was."
}
