package lesson

// HandIn says when students may hand photos of their drawings in by themselves.
type HandIn string

// When photos may be handed in.
const (
	Always        HandIn = ""
	AtCheckpoints HandIn = "checkpoints"
	Closed        HandIn = "closed" // until the teacher opens it
)

// HandIns lists them.
var HandIns = []HandIn{Always, AtCheckpoints, Closed}

// Open reports whether photos may be handed in at a place on the road, and if not, when.
func (h HandIn) Open(p Place) (open bool, when string) {
	switch {
	case h == Closed:
		return false, "Photos open when your teacher says so."
	case h == AtCheckpoints && p.Stage.Checkpoint == "":
		return false, "Photos open at the next checkpoint."
	}
	return true, ""
}
