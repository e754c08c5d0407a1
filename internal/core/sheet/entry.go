package sheet

import (
	"fmt"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// Entry is a heading with lines under it, on a card, a plan or a report.
type Entry struct {
	Head  string
	Lines []string

	signs []drawing // what lines begin with on paper, of as many as have one
	ticks bool      // on paper each is ticked when it is done, and they fill their room
}

// say adds a line, and what it begins with on paper.
func (e *Entry) say(sign drawing, line string) {
	e.Lines, e.signs = append(e.Lines, line), append(e.signs, sign)
}

// drawing draws something into a place of a page.
type drawing func(*page.Page, plane.Rect)

// Of an entry's lines, in millimetres: the room of a sign before one and of a dot, the gap
// between lines, how far lines to tick are pulled apart at most, and the gap below the heading.
const (
	signWide, signHigh = 8.0, 6.0
	dotWide            = 3.0
	lineGap            = 0.8
	mostSpread         = 4.0
	columnGap          = 8.0
	entryGap           = page.Heading + 3 // from the last line to the next heading's baseline
	entryHead          = 3.2              // from the heading's baseline to the first line's top
)

// drawEntry draws an entry into a room, the heading's baseline on its upper edge: as many lines
// as it holds, and how many there are beyond. Lines to tick go into two columns where the room
// is broad. It returns where the next heading may stand.
func drawEntry(pg *page.Page, room plane.Rect, e Entry) (bottom float64) {
	pg.Add(page.Text{At: room.Min, Size: page.Heading, Words: e.Head, Bold: true, Color: page.Ink})
	room.Min.Y += entryHead
	columns, rows, width, high := e.columns(room.Width())
	spread := 0.0
	if e.ticks && rows > 0 {
		spread = max(0, min(mostSpread, (room.Height()-high)/float64(rows)))
	}
	for column := range columns {
		at := plane.Pt(room.Min.X+float64(column)*(width+columnGap), room.Min.Y)
		from, to := column*rows, min((column+1)*rows, len(e.Lines))
		for i := from; i < to; i++ {
			left := room.Max.Y - at.Y
			full := e.high(i, to, width)-lineGap > left
			if full && (i+1 == to || e.high(i, i+2, width) > left) { // room for one line at most: it says how many there are
				pg.Add(page.Text{At: at.Add(plane.Pt(e.indent(), page.Small)), Size: page.Small, Words: fmt.Sprintf("and %d more", to-i), Color: page.Ink})
				at.Y += page.Body * page.Leading
				break
			}
			e.drawLine(pg, i, at, width)
			at.Y += e.high(i, i+1, width) + spread
		}
		bottom = max(bottom, at.Y)
	}
	return bottom + entryGap
}

// columns returns in how many columns an entry's lines stand, how many in each, how wide one
// is and how high the higher.
func (e Entry) columns(room float64) (columns, rows int, width, high float64) {
	columns, width = 1, room
	if e.ticks && room > 150 && len(e.Lines) > 3 {
		columns, width = 2, (room-columnGap)/2
	}
	rows = (len(e.Lines) + columns - 1) / columns
	for from := 0; from < len(e.Lines); from += rows {
		high = max(high, e.high(from, min(from+rows, len(e.Lines)), width))
	}
	return columns, rows, width, high
}

// needs returns how much room all of an entry takes, one that wide.
func (e Entry) needs(room float64) float64 {
	_, _, _, high := e.columns(room)
	return entryHead + high
}

// indent returns where an entry's words begin.
func (e Entry) indent() (x float64) {
	if e.ticks {
		x += page.Body * checkIndent
	}
	if len(e.signs) > 0 {
		return x + signWide + 2
	}
	if !e.ticks {
		x = dotWide
	}
	return x
}

// high returns how much room some lines take, one below the other.
func (e Entry) high(from, to int, width float64) (sum float64) {
	for i := from; i < to; i++ {
		sum += e.lineHigh(i, width) + lineGap
	}
	return sum
}

func (e Entry) lineHigh(i int, width float64) float64 {
	high := float64(len(page.Wrap(e.Lines[i], page.Body, width-e.indent(), false))) * page.Body * page.Leading
	if i < len(e.signs) && e.signs[i] != nil {
		high = max(high, signHigh)
	}
	return high
}

// drawLine draws one line with what it begins with, its upper left corner at a place.
func (e Entry) drawLine(pg *page.Page, i int, at plane.Point, width float64) {
	high, x := e.lineHigh(i, width), at.X
	words := page.Wrap(e.Lines[i], page.Body, width-e.indent(), false)
	if e.ticks {
		pg.Add(page.BoxPath(page.Box(x, at.Y+(high-page.Body)/2, page.Body, page.Body), 0.4, page.Ink))
		x += page.Body * checkIndent
	}
	if i < len(e.signs) && e.signs[i] != nil {
		e.signs[i](pg, page.Box(x, at.Y+(high-signHigh)/2+0.4, signWide, signHigh-0.8))
	} else if !e.ticks {
		pg.Add(page.Text{At: plane.Pt(at.X+e.indent()-dotWide, at.Y+page.Body), Size: page.Body, Words: "·", Bold: true, Color: page.Ink})
	}
	top := at.Y + (high-float64(len(words))*page.Body*page.Leading)/2
	pg.Paragraph(plane.Pt(at.X+e.indent(), top+page.Body), page.Body, width-e.indent(), false, e.Lines[i])
}

// drawHead draws a card's head: its sign, its name large, and in a line what it comes to. It
// returns where the work begins.
func drawHead(pg *page.Page, in plane.Rect, s sign, name, line string) (top float64) {
	const side = 14.0
	drawSign(pg, s, plane.Pt(in.Min.X, in.Min.Y+3), side)
	x := in.Min.X + side + 4
	pg.Add(page.Text{At: plane.Pt(x, in.Min.Y+10), Size: page.Title, Words: page.Cut(name, page.Title, in.Max.X-x, true), Bold: true, Color: page.Ink})
	return max(in.Min.Y+side+3, pg.Paragraph(plane.Pt(x, in.Min.Y+16.5), page.Body, in.Max.X-x, false, line)-page.Body) + 4
}

// filled returns a drawing of a swatch in a colour.
func filled(c page.Color) drawing {
	return func(pg *page.Page, in plane.Rect) {
		b := page.BoxPath(in, 0.3, page.Ink)
		b.Fill = &c
		pg.Add(b)
	}
}
