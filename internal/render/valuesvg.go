package render

import (
	"bufio"
	"fmt"
	"io"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/values"
)

// ValueSVG writes a value map as SVG in millimetres: one closed path an area,
// its holes cut out by the even-odd rule, grouped by step from the darkest.
// Outlined areas are not filled.
func ValueSVG(w io.Writer, m values.Map, outlined, inverted bool) error {
	out := bufio.NewWriter(w)
	width, height := num(float64(m.W)/m.PerMM), num(float64(m.H)/m.PerMM)
	fmt.Fprintf(out, `<svg xmlns="http://www.w3.org/2000/svg" width="%[1]smm" height="%[2]smm" viewBox="0 0 %[1]s %[2]s" role="img" aria-label="Value map in %[3]d steps">`,
		width, height, len(m.Levels))
	for s, l := range m.Levels {
		g := picture.GreyOf(m.Shade(s, inverted))
		paint := fmt.Sprintf(`fill="#%02x%02x%02x"`, g, g, g)
		if outlined {
			paint = `fill="none" stroke="#000" stroke-width="0.25"`
		}
		fmt.Fprintf(out, `<g id="step-%d" fill-rule="evenodd" %s><title>%d: %s</title>`, s+1, paint, s+1, escape(l.Grade))
		for _, a := range m.Areas {
			if a.Step != s {
				continue
			}
			io.WriteString(out, `<path d="`)
			for _, r := range a.Rings {
				for i, p := range r {
					letter := "L"
					if i == 0 {
						letter = "M"
					}
					fmt.Fprintf(out, "%s%s %s", letter, num(p.X/m.PerMM), num(p.Y/m.PerMM))
				}
				io.WriteString(out, "Z")
			}
			io.WriteString(out, `"/>`)
		}
		io.WriteString(out, "</g>")
	}
	io.WriteString(out, "</svg>")
	return out.Flush()
}
