package static

import (
	"bytes"
	"fmt"
	"strings"

	"zestysketch/internal/core/grid"
)

// sheets are the style sheets in the order in which they apply: what everybody
// shares, then an area each.
var sheets = []string{"tokens", "base", "parts", "today", "classes", "library", "bench", "print", "wall", "own", "check", "maps", "finish", "reckoner", "school"}

// styles is all of them as one file, with the colours of grid lines, which the
// plan's palette has.
var styles = func() []byte {
	var out bytes.Buffer
	for _, name := range sheets {
		b, err := files.ReadFile("css/" + name + ".css")
		if err != nil {
			panic(err) // they are compiled in
		}
		out.Write(b)
		if name == "tokens" {
			out.WriteString(gridColours())
		}
	}
	return out.Bytes()
}()

// gridColours names the grid's palette for the style sheets, and its swatches.
func gridColours() string {
	var vars, swatches strings.Builder
	for _, c := range grid.Palette {
		name := strings.ReplaceAll(c.Name, " ", "-")
		fmt.Fprintf(&vars, "  --grid-%s: #%02x%02x%02x;\n", name, c.R, c.G, c.B)
		fmt.Fprintf(&swatches, ".swatch-%s { background: var(--grid-%s); }\n", name, name)
	}
	return ":root {\n" + vars.String() + "}\n" + swatches.String()
}
