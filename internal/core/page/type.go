package page

import "zestysketch/internal/core/plane"

// Sizes of type, in millimetres. What is read in the hand is set in Body, 11 points, or in
// Young, 14 points; the furniture round the work stays smaller than what it frames.
const (
	Title   = 8.0
	Heading = 5.6
	Young   = 14 * 25.4 / 72
	Body    = 11 * 25.4 / 72
	Small   = 9 * 25.4 / 72
	Leading = 1.32 // from line to line, of the size
)

// Paragraph adds words wrapped to a width, the first baseline at a place, and returns where
// the next line's baseline would be.
func (p *Page) Paragraph(at plane.Point, size, width float64, bold bool, words string) float64 {
	for _, line := range Wrap(words, size, width, bold) {
		p.Add(Text{At: at, Size: size, Words: line, Bold: bold, Color: Ink})
		at.Y += size * Leading
	}
	return at.Y
}
