package accuracy

// Looseness is how exact a project wants its drawings: the teacher's choice.
type Looseness string

// The three settings of a project. Any other word counts as Normal.
const (
	Exact  Looseness = "exact"
	Normal Looseness = "normal"
	Loose  Looseness = "loose"
)

// Loosenesses lists the settings, the usual one first.
var Loosenesses = []Looseness{Normal, Exact, Loose}

// Tolerances in boxes; the three steps are ours.
const (
	ExactTolerance  = 0.1
	NormalTolerance = 0.2
	LooseTolerance  = 0.4
)

// Tolerance returns how far off, in boxes, a box or a landmark may be.
func (l Looseness) Tolerance() float64 {
	switch l {
	case Exact:
		return ExactTolerance
	case Loose:
		return LooseTolerance
	}
	return NormalTolerance
}
