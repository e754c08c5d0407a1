package grid

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"
	"zestysketch/internal/core/plane"
)

// divisions returns the equal parts that the method asks for.
func (r Request) divisions(bad *Problems, m Method) [2]int {
	switch m {
	case Parts:
		return r.pair(bad, "parts", r.Parts, "4", mostCells)
	case Quarters, Diagonals:
		n := r.pair(bad, "parts", r.Parts, "4", mostCells)
		if n[0] != n[1] || n[0] != 2 && n[0] != 4 && n[0] != 8 && n[0] != 16 {
			bad.add("parts", "halves, quarters and their quarters make 2, 4, 8 or 16 parts each way, got %q", r.Parts)
			return [2]int{4, 4}
		}
		return n
	}
	return [2]int{}
}

func (r Request) panelCount(bad *Problems) [2]int {
	if strings.TrimSpace(r.Panels) == "" {
		return [2]int{}
	}
	n := r.pair(bad, "panels", r.Panels, "1", mostPanels)
	if n == [2]int{1, 1} {
		return [2]int{}
	}
	return n
}

// pair reads "4" or "4 × 6", across × down.
func (r Request) pair(bad *Problems, field, text, usual string, most int) [2]int {
	across, down, two := strings.Cut(strings.ReplaceAll(orElse(text, usual), "×", "x"), "x")
	if !two {
		down = across
		if field == "panels" {
			down = "1" // a row
		}
	}
	a, err1 := strconv.Atoi(strings.TrimSpace(across))
	d, err2 := strconv.Atoi(strings.TrimSpace(down))
	if err1 != nil || err2 != nil || a < 1 || d < 1 || a > most || d > most {
		bad.add(field, "wanted a count across × down, such as 4 × 4, got %q", text)
		return [2]int{1, 1}
	}
	return [2]int{a, d}
}

// splits reads "C4 2, D5 4". Whether the boxes exist is seen when the grid is known.
func (r Request) splits(bad *Problems) map[string]int {
	split := map[string]int{}
	for entry := range strings.SplitSeq(r.Split, ",") {
		fields := strings.Fields(strings.NewReplacer("=", " ", ":", " ").Replace(entry))
		if len(fields) == 0 {
			continue
		}
		n := "2"
		if len(fields) > 1 {
			n = fields[1]
		}
		if len(fields) > 2 || n != "2" && n != "4" {
			bad.add("split", "wanted boxes and 2 or 4, such as C4 2, D5 4; got %q", strings.TrimSpace(entry))
			continue
		}
		split[strings.ToUpper(fields[0])] = int(n[0] - '0')
	}
	return split
}

var frameForm = regexp.MustCompile(`^(-?[\d.]+),(-?[\d.]+) ([\d.]+)[x×]([\d.]+)(?: (-?[\d.]+))?( mirror)?$`)

// frame reads the frame, or takes all of the picture.
func (r Request) frame(bad *Problems) *Frame {
	f := wholePicture(r.Picture)
	if f == nil || strings.TrimSpace(r.Frame) == "" {
		return f
	}
	m := frameForm.FindStringSubmatch(strings.Join(strings.Fields(strings.ToLower(r.Frame)), " "))
	if m == nil {
		bad.add("frame", "wanted the frame as x,y w×h angle in picture pixels, got %q", r.Frame)
		return f
	}
	var v [5]float64
	for i := range v {
		v[i], _ = strconv.ParseFloat(m[i+1], 64) // digits by the pattern; empty is 0
	}
	f.Centre, f.Size = plane.Pt(v[0], v[1]), [2]float64{v[2], v[3]}
	f.Angle, f.Mirror = math.Mod(v[4], 360), m[6] != ""
	switch {
	case f.Size[0] < LeastFrame || f.Size[1] < LeastFrame:
		bad.add("frame", "the frame is %.0f × %.0f pixels; draw it at least %d pixels wide and high", f.Size[0], f.Size[1], LeastFrame)
		return wholePicture(r.Picture)
	case !f.Inside():
		bad.add("frame", "the frame reaches outside the picture; move it in, or make it smaller")
		return wholePicture(r.Picture)
	}
	return f
}

// AskedFrame returns the frame that the request asks for, all of the picture
// where it asks for none, nil where no picture is known. The error is Problems.
func (r Request) AskedFrame() (*Frame, error) {
	var bad Problems
	f := r.frame(&bad)
	if bad != nil {
		return nil, bad
	}
	return f, nil
}

// LeastFrame is the fewest pixels a side of a frame has.
const LeastFrame = 16

// String writes a frame as Request.Frame reads it.
func (f Frame) String() string {
	num := func(v float64) string { return strconv.FormatFloat(math.Round(v*100)/100, 'f', -1, 64) }
	s := fmt.Sprintf("%s,%s %sx%s %s", num(f.Centre.X), num(f.Centre.Y), num(f.Size[0]), num(f.Size[1]), num(f.Angle))
	if f.Mirror {
		s += " mirror"
	}
	return s
}
