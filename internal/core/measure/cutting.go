package measure

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// Piece is one drawing sheet on the stock it is cut from, from its top left.
type Piece struct {
	X, Y Length
	Size Size
}

// CutLine is a straight cut through a whole remaining piece of stock, as a
// trimmer makes it, at a distance from the stock's left or top edge.
type CutLine struct {
	Upright  bool // from top to bottom
	At       Length
	From, To Length // the other coordinate, where the cut starts and ends
}

// Cutting is how pieces of one size are cut from a stock paper, for a class.
type Cutting struct {
	Paper   Paper
	Stock   Size // the paper as it lies, less a hair that nobody cuts off
	Pieces  []Piece
	Cuts    []CutLine // in the order to make them
	Offcuts []Size    // of one stock sheet
	Sheets  int       // stock sheets for everyone
	Waste   float64   // share of the paper bought that nobody draws on, 0 to 1
}

// PerSheet returns how many pieces one stock sheet gives.
func (c Cutting) PerSheet() int { return len(c.Pieces) }

// Cut returns the best way to cut pieces of one size from a stock paper for n
// students: a block of pieces one way round, and turned ones from the strips
// beside and below it. ok is false where not even one fits. Sides and n must
// be more than 0.
func Cut(paper Paper, piece Size, n int) (c Cutting, ok bool) {
	for _, stock := range []Size{paper.Size, paper.Size.Turned()} {
		for _, downFirst := range []bool{false, true} {
			if try := cutOne(withoutHair(stock, piece), piece, downFirst); len(try.Pieces) > len(c.Pieces) {
				c = try
			}
		}
	}
	if len(c.Pieces) == 0 {
		return Cutting{}, false
	}
	c.Paper = paper
	c.Sheets = (n + len(c.Pieces) - 1) / len(c.Pieces)
	c.Waste = 1 - float64(n)*area(piece)/(float64(c.Sheets)*area(c.Stock))
	return c, true
}

// thinnest is what is cut off: nobody cuts less than half a sixteenth of an inch (ours).
const thinnest = MillimetresPerInch / 32

// withoutHair returns the stock less what would be left of it in strips too thin to cut.
func withoutHair(stock, piece Size) Size {
	whole := func(s, p Length) Length {
		if rest := s - p*Length(fits(s, p)); rest < thinnest && rest < s/2 {
			return s - max(0, rest)
		}
		return s
	}
	return Size{whole(stock.W, piece.W), whole(stock.H, piece.H)}
}

func area(s Size) float64 { return float64(s.W) * float64(s.H) }

// HandyPieces is how many drawings a sheet may give and still be worth cutting
// for a class: more are confetti (ours).
const HandyPieces = 12

// mostPieces bounds how many pieces a stock sheet is cut into: confetti helps nobody.
const mostPieces = 400

// cutOne fills stock with upright pieces and the two strips that are left with
// turned ones. downFirst cuts the strip at the right off first, over the whole
// height; else the strip at the bottom, over the whole width.
func cutOne(stock, piece Size, downFirst bool) Cutting {
	c := Cutting{Stock: stock}
	across, down := fits(stock.W, piece.W), fits(stock.H, piece.H)
	if across*down == 0 || across*down > mostPieces {
		return c
	}
	block := Size{piece.W * Length(across), piece.H * Length(down)}
	right, bottom := Size{stock.W - block.W, stock.H}, Size{block.W, stock.H - block.H}
	if !downFirst {
		right.H, bottom.W = block.H, stock.W
		c.cut(false, block.H, 0, stock.W, stock.H)
		c.cut(true, block.W, 0, block.H, stock.W)
	} else {
		c.cut(true, block.W, 0, stock.H, stock.W)
		c.cut(false, block.H, 0, block.W, stock.H)
	}
	c.grid(0, 0, block, piece)
	c.strip(block.W, 0, right, piece.Turned())
	c.strip(0, block.H, bottom, piece.Turned())
	return c
}

func fits(whole, part Length) int { return int(math.Floor(float64(whole/part) + 1e-6)) }

// cut adds a cut unless it would fall on the edge.
func (c *Cutting) cut(upright bool, at, from, to, edge Length) {
	if at < edge-0.01 {
		c.Cuts = append(c.Cuts, CutLine{upright, at, from, to})
	}
}

// grid fills a block exactly with pieces, with the cuts between them.
func (c *Cutting) grid(x, y Length, block, piece Size) {
	across, down := fits(block.W, piece.W), fits(block.H, piece.H)
	for i := 1; i < across; i++ {
		c.Cuts = append(c.Cuts, CutLine{true, x + Length(i)*piece.W, y, y + block.H})
	}
	for j := range down {
		if j > 0 {
			c.Cuts = append(c.Cuts, CutLine{false, y + Length(j)*piece.H, x, x + block.W})
		}
		for i := range across {
			c.Pieces = append(c.Pieces, Piece{x + Length(i)*piece.W, y + Length(j)*piece.H, piece})
		}
	}
}

// strip takes turned pieces from what is left, and notes the rest as offcuts.
func (c *Cutting) strip(x, y Length, s, piece Size) {
	if s.W < 0.01 || s.H < 0.01 {
		return
	}
	across, down := fits(s.W, piece.W), fits(s.H, piece.H)
	if across*down == 0 {
		c.Offcuts = append(c.Offcuts, s)
		return
	}
	block := Size{piece.W * Length(across), piece.H * Length(down)}
	c.cut(true, x+block.W, y, y+s.H, x+s.W)
	c.cut(false, y+block.H, x, x+block.W, y+s.H)
	c.grid(x, y, block, piece)
	for _, rest := range []Size{{s.W - block.W, s.H}, {block.W, s.H - block.H}} {
		if rest.W >= 0.01 && rest.H >= 0.01 {
			c.Offcuts = append(c.Offcuts, rest)
		}
	}
}

// RankStock returns the ways to cut pieces for n students from each paper that
// holds one, least waste first; of equal waste, fewer sheets first.
func RankStock(piece Size, n int, papers []Paper) []Cutting {
	var list []Cutting
	for _, p := range papers {
		if c, ok := Cut(p, piece, n); ok {
			list = append(list, c)
		}
	}
	slices.SortStableFunc(list, func(a, b Cutting) int {
		if math.Abs(a.Waste-b.Waste) > 1e-9 {
			return cmp.Compare(a.Waste, b.Waste)
		}
		return cmp.Compare(a.Sheets, b.Sheets)
	})
	return list
}

// Words returns the cuts in their order, and what is left, as a person says them.
func (c Cutting) Words(u Unit) []string {
	var words []string
	for i, cut := range c.Cuts {
		from, whole := "from the top", c.Stock.W
		if cut.Upright {
			from, whole = "from the left", c.Stock.H
		}
		reach := "right across"
		if cut.Upright {
			reach = "from top to bottom"
		}
		if cut.To-cut.From < whole-0.01 {
			reach = "through that piece only"
		}
		words = append(words, fmt.Sprintf("Cut %d: %s %s, %s.", i+1, cut.At.Text(u), from, reach))
	}
	for _, o := range c.Offcuts {
		words = append(words, "Left over: "+o.Text(u)+".")
	}
	return words
}
