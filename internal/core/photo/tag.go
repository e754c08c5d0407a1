package photo

import (
	"strconv"
	"strings"
	"zestysketch/internal/core/plane"

	"rsc.io/qr"
)

// Tag is what a corner tag says: which corner of whose drawing it lies at.
type Tag struct {
	Project, Student uint64
	Corner           int // 0 top left, 1 top right, 2 bottom right, 3 bottom left
}

const tagPrefix = "ZS/"

// Modules returns how many modules a side of the tag's code has, 21 for all but
// the longest; 0 for what no code can hold.
func (t Tag) Modules() int {
	code, err := qr.Encode(t.String(), qr.M)
	if err != nil {
		return 0
	}
	return code.Size
}

// String writes a tag as its code holds it: short, and in the letters that a QR
// code packs best.
func (t Tag) String() string {
	n := func(v uint64) string { return strings.ToUpper(strconv.FormatUint(v, 36)) }
	return tagPrefix + n(t.Project) + "/" + n(t.Student) + "/" + strconv.Itoa(t.Corner)
}

// ParseTag reads what a tag's code says; ok is false for any other code.
func ParseTag(s string) (t Tag, ok bool) {
	rest, found := strings.CutPrefix(s, tagPrefix)
	parts := strings.Split(rest, "/")
	if !found || len(parts) != 3 {
		return Tag{}, false
	}
	project, err1 := strconv.ParseUint(parts[0], 36, 63)
	student, err2 := strconv.ParseUint(parts[1], 36, 63)
	corner, err3 := strconv.Atoi(parts[2])
	t = Tag{project, student, corner}
	return t, err1 == nil && err2 == nil && err3 == nil && corner >= 0 && corner < 4 && t.String() == s
}

// A tag in millimetres: its side, and where the code stands in it, measured
// from the pointing corner along both sides.
const (
	TagSide  = 30.0
	TagCode  = 19.0 // side of the code's dark area
	TagInset = 6.0  // from the pointing corner to the code
)

// TagTip returns where the pointing corner of a tag is, from the tag's own top
// left, and where its code's top left is. The tag of the top left corner points
// to its bottom right, for it lies outside the drawing.
func TagTip(corner int) (tip, code plane.Point) {
	const far = TagSide - TagInset - TagCode
	switch corner {
	case 0:
		return plane.Pt(TagSide, TagSide), plane.Pt(far, far)
	case 1:
		return plane.Pt(0, TagSide), plane.Pt(TagInset, far)
	case 2:
		return plane.Pt(0, 0), plane.Pt(TagInset, TagInset)
	}
	return plane.Pt(TagSide, 0), plane.Pt(far, TagInset)
}
