package measure

import "strings"

// Paper is a named stock size, upright.
type Paper struct {
	Name string
	Size Size
}

// inches returns a size given in inches.
func inches(w, h float64) Size {
	return Size{Length(w * MillimetresPerInch), Length(h * MillimetresPerInch)}
}

// Papers lists the named papers: ISO 216 A series, then ANSI/ASME Y14.1 and
// the two other sizes of North American office paper, then the drawing and
// construction papers that schools buy (common practice).
var Papers = []Paper{
	{"A6", Size{105, 148}}, {"A5", Size{148, 210}}, {"A4", Size{210, 297}},
	{"A3", Size{297, 420}}, {"A2", Size{420, 594}}, {"A1", Size{594, 841}}, {"A0", Size{841, 1189}},
	{"Letter", inches(8.5, 11)}, {"Legal", inches(8.5, 14)}, {"Tabloid", inches(11, 17)},
	{"9 × 12 in drawing", inches(9, 12)}, {"12 × 18 in drawing", inches(12, 18)}, {"18 × 24 in drawing", inches(18, 24)},
}

// PaperNamed returns the paper called name, in any case.
func PaperNamed(name string) (Paper, bool) {
	for _, p := range Papers {
		if strings.EqualFold(p.Name, strings.TrimSpace(name)) {
			return p, true
		}
	}
	return Paper{}, false
}

// paperByWords reads "A4", "letter lying" or "a3 landscape".
func paperByWords(s string) (Size, bool) {
	low := strings.ToLower(strings.TrimSpace(s))
	for _, word := range []string{" lying", " landscape"} {
		if name, turned := strings.CutSuffix(low, word); turned {
			p, ok := PaperNamed(name)
			return p.Size.Turned(), ok
		}
	}
	p, ok := PaperNamed(strings.TrimSuffix(low, " upright"))
	return p.Size, ok
}
