package measure

import "strings"

// Kind says who sells a paper.
type Kind string

// Kinds of paper: what office printers take, drawing stock by its standard,
// and what schools buy by its size.
const (
	Office  Kind = "office"
	ISO     Kind = "iso"
	ANSI    Kind = "ansi"
	Arch    Kind = "arch"
	Drawing Kind = "drawing"
)

// Paper is a named stock size, upright.
type Paper struct {
	Name string
	Size Size
	Kind Kind
}

// inches returns a size given in inches.
func inches(w, h float64) Size {
	return Size{Length(w * MillimetresPerInch), Length(h * MillimetresPerInch)}
}

// Papers lists the named papers: ISO 216 A and B series; ANSI/ASME Y14.1 with
// the other sizes of North American offices; the architects' sizes (from
// memory); then drawing and construction papers that schools buy (common
// practice).
var Papers = []Paper{
	{"A6", Size{105, 148}, ISO}, {"A5", Size{148, 210}, ISO}, {"A4", Size{210, 297}, Office}, {"A3", Size{297, 420}, Office},
	{"A2", Size{420, 594}, ISO}, {"A1", Size{594, 841}, ISO}, {"A0", Size{841, 1189}, ISO},
	{"B5", Size{176, 250}, ISO}, {"B4", Size{250, 353}, ISO}, {"B3", Size{353, 500}, ISO}, {"B2", Size{500, 707}, ISO}, {"B1", Size{707, 1000}, ISO},
	{"Letter", inches(8.5, 11), Office}, {"Legal", inches(8.5, 14), Office}, {"Tabloid", inches(11, 17), Office},
	{"ANSI C", inches(17, 22), ANSI}, {"ANSI D", inches(22, 34), ANSI}, {"ANSI E", inches(34, 44), ANSI},
	{"Arch A", inches(9, 12), Arch}, {"Arch B", inches(12, 18), Arch}, {"Arch C", inches(18, 24), Arch}, {"Arch D", inches(24, 36), Arch}, {"Arch E", inches(36, 48), Arch},
	{"11 × 14 in drawing", inches(11, 14), Drawing}, {"14 × 17 in drawing", inches(14, 17), Drawing},
	{"22 × 30 in watercolour", inches(22, 30), Drawing}, {"50 × 70 cm drawing", Size{500, 700}, Drawing}, {"70 × 100 cm drawing", Size{700, 1000}, Drawing},
}

// OfficePaper returns what printers hold where people measure in u: Letter with
// inches, A4 otherwise.
func OfficePaper(u Unit) Paper {
	name := "A4"
	if u == Inch {
		name = "Letter"
	}
	p, _ := PaperNamed(name)
	return p
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
