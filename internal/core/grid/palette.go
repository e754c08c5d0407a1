package grid

// defaultLine is a grid line's width in millimetres: seen at arm's length, and
// finer than what is drawn.
const defaultLine = 0.25

// LineColor is a colour for the grid on the reference, sRGB.
type LineColor struct {
	Name    string
	R, G, B uint8
}

// Palette lists the colours to choose from, in the order in which they are
// preferred where several can be seen: dark on light pictures; red, white or a
// light colour where the picture is dark (common practice).
var Palette = []LineColor{
	{"dark", 0x22, 0x2b, 0x26}, {"red", 0xc8, 0x10, 0x2e}, {"white", 0xff, 0xff, 0xff}, {"light blue", 0x9f, 0xd3, 0xff}, {"yellow", 0xff, 0xe1, 0x4d},
}

// Places in the Palette.
const paletteDark, paletteRed = 0, 1

// LineColors returns the palette's names.
func LineColors() []string {
	names := make([]string, len(Palette))
	for i, c := range Palette {
		names[i] = c.Name
	}
	return names
}

// Paint returns the colour of the plan's line.
func (l Line) Paint() LineColor {
	for _, c := range Palette {
		if c.Name == l.Color {
			return c
		}
	}
	return Palette[0]
}
