package accuracy

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
)

// Format names the version of the report that this package makes.
const Format = "zesty-check/1"

// Report is what a check found, zesty-check/1.
type Report struct {
	Format      string        `json:"format"`
	Corners     plane.Quad    `json:"corners"`
	FoundBy     photo.FoundBy `json:"found_by"`
	PhotoSize   [2]int        `json:"photo_px"`
	Photo       photo.Quality `json:"photo"`
	Measured    bool          `json:"measured"` // false where the photo shows nothing that could be measured
	Why         string        `json:"why,omitempty"`
	Ask         bool          `json:"ask,omitempty"` // somebody should say where the grid's corners are
	Tonal       bool          `json:"tonal"`         // the picture is no line drawing
	Likeness    float64       `json:"likeness"`      // how much of the picture's lines was found again, 0 to 1
	Grid        photo.Grid    `json:"grid"`
	Fit         Fit           `json:"fit"`
	Tolerance   float64       `json:"tolerance_cell"`
	Cells       []Cell        `json:"cells"`
	Landmarks   []Offset      `json:"landmarks"`
	Proportions []Proportion  `json:"proportions"`
	Parts       []Part        `json:"parts,omitempty"` // that are not where the lines round them are, the longest first
	InPlace     float64       `json:"in_place"`        // share of the picture's lines that is where it belongs; 1 of a photograph's
	Leaves      []Leave       `json:"leaves,omitempty"`
	Tone        Tone          `json:"tone"`
	Reach       *Reach        `json:"reach,omitempty"`    // how much of the sheet is filled
	Compared    Compare       `json:"compared,omitempty"` // what Halves are compared by, the fold where it is empty
	Halves      []Cell        `json:"halves,omitempty"`
	Views       []Extent      `json:"views,omitempty"`
	Free        []string      `json:"free,omitempty"` // boxes of which nothing is said: they are left free
	Strength    string        `json:"strength"`
	Next        []Advice      `json:"next"`
	Say         []string      `json:"say"`
}

// Fit explains the shifts by one move, turn and size of the whole drawing
// about its middle; RMS is what then remains. The turn is clockwise as seen.
type Fit struct {
	DX       float64 `json:"dx_cell"`
	DY       float64 `json:"dy_cell"`
	Scale    float64 `json:"scale_percent"` // 0 is the right size, +2 is 2 % too large
	Rotation float64 `json:"rotation_deg"`
	RMS      float64 `json:"rms_cell"`
	Of       string  `json:"of"` // OfLines, OfLandmarks or, where nothing tells, OfNothing

	ScaleUncertain    float64 `json:"scale_uncertain_percent"` // one standard deviation
	RotationUncertain float64 `json:"rotation_uncertain_deg"`
}

// What a fit was made of.
const (
	OfLines     = "lines"
	OfLandmarks = "landmarks"
	OfNothing   = "nothing"
)

// Compare says what more a project compares.
type Compare string

// What a drawing is compared with beside its picture.
const (
	Picture   Compare = ""
	Fold      Compare = "fold"  // its own two halves about an upright fold in the middle
	LevelFold Compare = "level" // its own two halves about a level fold
	Turned    Compare = "turn"  // its own two halves, one turned half round about the middle
	Views     Compare = "views" // several views with one another
)

// Comparisons lists what a drawing may be compared with, its picture alone first.
var Comparisons = []Compare{Picture, Fold, LevelFold, Turned, Views}

// Job is what a check is made of.
type Job struct {
	Plan      grid.Plan
	Reference *photo.Shot // nil where only landmarks are measured
	Tonal     bool        // the reference is no line drawing
	Photo     *photo.Shot
	Corners   *plane.Quad   // of the outer grid rectangle, in photo pixels; nil to find it
	FoundBy   photo.FoundBy // how the corners were found, where they are given
	Marks     []Landmark
	Tolerance float64 // in boxes, as Tolerance gives it; 0 is normal
	Compare   Compare
	Heights   []Height // of which Views are compared beside their tops and bottoms
	Free      []string // boxes that everyone draws as they like: nothing is said of them
}

// ErrNotFound is wrapped by the error of a photo in which no drawing is found.
var ErrNotFound = errors.New("no drawing was found in the photo")

// Measure measures a photographed drawing. A photo that cannot be measured
// gives a report that says why. Errors wrap ErrNotFound, picture.ErrCorners or
// ErrLandmarks.
func Measure(j Job) (Report, error) {
	j.Tolerance = cmp.Or(j.Tolerance, NormalTolerance)
	if err := j.check(); err != nil {
		return Report{}, err
	}
	quad, by, err := j.corners()
	ask := errors.Is(err, errAsk)
	if err != nil && !ask && !errors.Is(err, errEitherWay) {
		return Report{}, err
	}
	doubt := err
	d, quad, err := j.see(quad, by)
	if err != nil {
		return Report{}, err
	}
	w, h := j.Photo.Size()
	r := Report{
		Format: Format, Corners: quad, FoundBy: by, Tolerance: j.Tolerance, Tonal: j.Tonal,
		PhotoSize: [2]int{w, h},
		Photo:     photo.Judge(j.Plan, j.Photo, quad, d.Photo, d.Even, d.Frame),
		Grid:      photo.JudgeGrid(j.Plan, d.Even.Ink, d.Ruled, d.ruled, d.Frame), Cells: []Cell{}, Landmarks: []Offset{}, Proportions: []Proportion{}, Next: []Advice{},
	}
	r.Grid.Bend, r.Grid.Curl = d.View.Lens.K, d.View.Curl
	if len(r.Photo.Problems) > 0 {
		r.Grid.Problems = []string{} // a poor photo does not judge a ruler's work
	}
	r.Ask = ask && r.Photo.Usable
	if r.Why = r.doubt(doubt); r.Why == "" {
		r.measure(d, j)
	}
	if r.Measured && errors.Is(doubt, errEitherWay) {
		r.Photo.Problems = append(r.Photo.Problems, eitherWay)
	}
	r.say(j.Plan)
	return r, nil
}

// check says what of a job cannot be. Errors wrap ErrLandmarks.
func (j Job) check() error {
	if err := usable(j.Plan, j.Marks); err != nil {
		return err
	}
	if !(j.Tolerance > 0 && j.Tolerance <= 5) {
		return fmt.Errorf("%w: wanted a tolerance above 0 and up to 5 boxes, got %g", ErrLandmarks, j.Tolerance)
	}
	if j.Reference == nil && len(j.Marks) == 0 {
		return fmt.Errorf("%w: nothing to measure by; give the picture, or at least one landmark", ErrLandmarks)
	}
	return nil
}

// doubt returns why a photo is not measured: it is no use, or, by what finding the drawing said, somebody is to say
// where its corners are.
func (r Report) doubt(found error) string {
	switch {
	case !r.Photo.Usable:
		return r.Photo.Problems[len(r.Photo.Problems)-1]
	case !errors.Is(found, errAsk):
		return ""
	case r.FoundBy == photo.ByThree:
		return askFourth
	case errors.Is(found, errCut):
		return askCut
	}
	return askWhy
}

// measure measures what was drawn.
func (r *Report) measure(d Seen, j Job) {
	var where *Matched // where landmarks are looked for
	if j.Reference != nil {
		boxes := d.Match().Boxes(r.Tolerance)
		if r.lines(boxes, j); r.Measured {
			where = &boxes.Matched
		}
	}
	r.measureLandmarks(j.Plan, j.Marks, d.View, where)
}

func (j Job) lens(bend float64) photo.Lens {
	w, h := j.Photo.Size()
	return photo.NewLens(w, h, bend)
}

// handCorner is how far from the ruled lines, in boxes, a hand's corner must be to be
// drawn to them: nearer it is as good.
const handCorner = 0.02

// corners returns where the grid lies: as given, by tags, or as proposed by
// what the photo shows.
func (j Job) corners() (plane.Quad, photo.FoundBy, error) {
	if j.Corners != nil {
		q := *j.Corners
		by := j.FoundBy
		if by == "" {
			by = photo.ByHand
		}
		if err := q.Check(); err != nil || by != photo.ByHand {
			if err == nil && by == photo.ByThree {
				return j.fourth(q)
			}
			return q, by, err
		}
		if on, ruled := photo.Snap(j.Photo, j.Plan, q); ruled && photo.Apart(j.Plan, on, q) > handCorner && j.insideFits(on, q) {
			return on, by, nil
		}
		return q, by, nil
	}
	if tagged := photo.FindTags(j.Photo); len(tagged) == 1 {
		if tagged[0].By() == photo.ByThree {
			return j.fourth(tagged[0].Corners)
		}
		return tagged[0].Corners, photo.ByTags, nil
	}
	return j.located()
}

// insideFits reports whether the ruled lines inside ask for other corners than a hand set: what
// lies beside those corners alone may be the paper's edge.
func (j Job) insideFits(on, hand plane.Quad) bool {
	there, shows := photo.InnerOff(j.Photo, j.Plan, on)
	here, too := photo.InnerOff(j.Photo, j.Plan, hand)
	return !shows || !too || there < here
}

// fourth returns the corners of a drawing of which three tags were read: the ruled grid tells
// the one that is missing, or somebody is asked.
func (j Job) fourth(q plane.Quad) (plane.Quad, photo.FoundBy, error) {
	on, by, err := j.located()
	if err == nil && by == photo.ByGrid && photo.Fourth(j.Plan, q, on) {
		return on, by, nil
	}
	return q, photo.ByThree, errAsk
}

// see flattens the sheet between four corners and finds the lines on it. The corners it
// returns are those of the flattened sheet.
func (j Job) see(quad plane.Quad, by photo.FoundBy) (Seen, plane.Quad, error) {
	v, quad, err := photo.Flatten(j.Photo, j.Plan, quad, by == photo.ByTags)
	if err != nil {
		return Seen{}, quad, err
	}
	return See(j, v, photo.PixelsPerCell(j.Plan, quad)), quad, nil
}

// askWhy is what is said where the corners are not sure.
const askWhy = "It is not sure where the drawing’s grid lies on this sheet: there are no corner tags, and no ruled grid shows. Set the four corners under the magnifier, then it is measured."

// askFourth is what is said where one of four tags could not be read.
const askFourth = "One of the four corner tags could not be read, and no ruled grid shows: its corner is not sure. Set it under the magnifier, then the drawing is measured."

// askCut is what is said where a side of the sheet lies outside the photo.
const askCut = "A side of the sheet lies outside the photo, and no ruled grid shows: it is not sure where the drawing’s grid lies. Step back until the whole sheet is in view, or set the four corners under the magnifier."

// eitherWay is what is said of a drawing that tells not which way up it is.
const eitherWay = "This drawing looks much the same the other way up: the top of the photo was taken for its top."

// A drawing found by its paper alone that is so far off as a whole may rather lie
// elsewhere on it: percent, degrees, boxes.
const mostSize, mostTurn, mostMove = 3.5, 2.0, 0.4

// liesElsewhere reports whether the drawing may rather lie elsewhere on its paper: as a whole it is
// far off, or of the boxes with lines in them few know where they are.
func (d Boxes) liesElsewhere() bool {
	know, drawn := d.boxesKnown()
	f := d.Fit
	return know < leastKnown*drawn || f.Of == OfLines && (math.Abs(f.Scale) > mostSize || math.Abs(f.Rotation) > mostTurn || math.Hypot(f.DX, f.DY) > mostMove)
}

// boxesKnown returns how many boxes know where they are, of how many with lines in them.
func (d Boxes) boxesKnown() (know, drawn float64) {
	for _, c := range d.Cells {
		if c.State != Empty && c.Lines > leastForBoth {
			if drawn++; c.Sure != None {
				know++
			}
		}
	}
	return know, drawn
}

// phonesBend is more than the lens of a phone bends: a grid that seems to be bent so is
// another one, or lies on a sheet that nobody could flatten.
const phonesBend = 0.06

// lines measures boxes, tones and whatever else the project compares.
func (r *Report) lines(d Boxes, j Job) {
	r.Likeness = d.likeness(d.inBox)
	drawn := 0.0
	for _, c := range d.Cells {
		if c.State != Empty {
			drawn++
		}
	}
	// A sheet that is hardly begun is like nothing yet.
	if drawn >= 3 && drawn >= 0.1*float64(len(d.Cells)) {
		if r.Why = d.another(drawn); r.Why != "" {
			return
		}
	}
	if r.Ask = r.FoundBy == photo.ByPaper && d.liesElsewhere() || r.FoundBy == photo.ByGrid && math.Abs(r.Grid.Bend) > phonesBend; r.Ask {
		r.Why = askWhy
		return
	}
	r.Measured, r.Cells, r.Fit, r.Free = true, d.Cells, d.Fit, d.freeBoxes()
	r.Tone, r.Reach = d.Tones(), d.reach()
	r.Parts, r.InPlace = d.parts()
	r.Leaves = d.leaves()
	r.Parts = slices.DeleteFunc(r.Parts, func(p Part) bool { return p.within(r.Tolerance) })
	nameParts(r.Parts, j.Plan, j.Marks)
	r.Parts = slices.DeleteFunc(r.Parts, func(p Part) bool { return isFree(p, j.Marks) })
	switch j.Compare {
	case Fold, LevelFold, Turned:
		r.Compared, r.Halves = j.Compare, d.Halves(j.Compare, r.Tolerance)
	case Views:
		r.Views = d.Extents(j.Heights)
	}
}

// Remark returns the report with its landmarks where they now stand, and its
// words rewritten; the lines need not be measured again.
func (r Report) Remark(p grid.Plan, marks []Landmark) (Report, error) {
	if err := usable(p, marks); err != nil {
		return r, err
	}
	v, err := r.View(p)
	if err != nil {
		return r, err
	}
	r.measureLandmarks(p, marks, v, nil)
	nameParts(r.Parts, p, marks)
	r.say(p)
	return r, nil
}

// View returns how the sheet lies in the photo.
func (r Report) View(p grid.Plan) (photo.View, error) {
	return photo.NewCurledView(p, r.Corners, photo.NewLens(r.PhotoSize[0], r.PhotoSize[1], r.Grid.Bend), r.Grid.Curl)
}
