package static

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"zestysketch/internal/core/grid"
)

// sheets are the style sheets in the order in which they apply: what everybody
// shares, then an area each. Students' pages read the shared ones and their own.
var (
	shared = []string{"tokens", "base", "parts"}
	areas  = []string{"today", "classes", "library", "bench", "print", "wall", "own", "check", "maps", "finish", "reckoner", "school"}
)

// styles is all of them as one file, and lean is what students' pages read: a slow tablet
// shows nothing before it has read its styles.
var (
	styles = joined(slices.Concat(shared, areas))
	lean   = slices.Concat(skeleton(read("vendor/bootstrap/bootstrap.min.css")), joined(append(slices.Clone(shared), "own")))
)

// leanCSS is what students' pages bring along in themselves: on a slow line that is one
// trip less before anything is painted. LeanSource names it in a page's policy.
var leanCSS = template.CSS(lean)

// Lean returns it.
func Lean() template.CSS { return leanCSS }

// LeanSource lets those very styles stand in a page (W3C Content Security Policy, hash source).
var LeanSource = func() string {
	sum := sha256.Sum256(lean)
	return "'sha256-" + base64.StdEncoding.EncodeToString(sum[:]) + "'"
}()

func read(name string) []byte {
	b, err := files.ReadFile(name)
	if err != nil {
		panic(err) // they are compiled in
	}
	return b
}

// joined puts sheets together, with the colours of grid lines, which the plan's palette has.
func joined(names []string) []byte {
	var out bytes.Buffer
	for _, name := range names {
		out.Write(bytes.ReplaceAll(read("css/"+name+".css"), []byte(`"/static/`), []byte(`"`+root)))
		if name == "tokens" {
			out.WriteString(gridColours())
		}
	}
	return out.Bytes()
}

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
