package accuracy

import (
	"math"
	"slices"

	"zestysketch/internal/core/photo"
)

// Gist is what lists of many reports say of one: kept beside it, so that a page
// about a class need not read them whole.
type Gist struct {
	Measured bool     `json:"measured"`
	Why      string   `json:"why,omitempty"` // why it could not be measured
	Ask      bool     `json:"ask,omitempty"` // somebody should say where the corners are
	Told     []string `json:"told"`          // boxes with lines to measure
	Wrong    []string `json:"wrong"`         // those of them that are not in their places
	Drawn    []string `json:"drawn"`         // boxes that are done
	Within   int      `json:"within"`        // landmarks well placed
	Placed   int      `json:"placed"`        // landmarks that were found or placed
	Say      []string `json:"say"`
	Bend     float64  `json:"bend"` // of the photo's lens, as the grid's lines told it

	Parts []Part `json:"parts,omitempty"` // that moved or are not there, without their lines

	Curl  *photo.Curl `json:"curl,omitempty"` // of the sheet; absent where it lies flat
	Off   *float64    `json:"off,omitempty"`  // nine of ten told boxes are off by at most so much of a box; absent where fewer than leastOff are told
	Reach *Reach      `json:"reach,omitempty"`
	Tone  *float64    `json:"tone,omitempty"` // rank correlation of the tones; absent where they are not judged
}

// leastOff is how many boxes have to be told for what nine of ten are off by (ours).
const leastOff = 5

// Gist returns the report in short.
func (r Report) Gist() Gist {
	g := Gist{Measured: r.Measured, Why: r.Why, Ask: r.Ask, Say: r.Say, Bend: r.Grid.Bend, Curl: r.Grid.Curl, Reach: r.Reach}
	if r.Tone.Judged {
		g.Tone = &r.Tone.Rank
	}
	var off []float64
	for _, c := range r.Cells {
		if c.State == Drawn && !r.inPart(c.Label) { // with a part that is not there a box is not done
			g.Drawn = append(g.Drawn, c.Label)
		}
		if !r.told(c) {
			continue
		}
		g.Told = append(g.Told, c.Label)
		off = append(off, c.Size())
		if !r.right(c) {
			g.Wrong = append(g.Wrong, c.Label)
		}
	}
	if len(off) >= leastOff {
		slices.Sort(off)
		at := off[int(math.Ceil(0.9*float64(len(off))))-1]
		g.Off = &at
	}
	for _, p := range r.Parts {
		if p.State == PartMoved || p.State == PartMissing {
			p.Lines = nil
			g.Parts = append(g.Parts, p)
		}
	}
	for _, l := range r.Landmarks {
		if l.Sure {
			g.Placed++
			if l.Within {
				g.Within++
			}
		}
	}
	return g
}

// Right returns how many boxes with lines to measure are in their places, and
// how many there are.
func (g Gist) Right() (right, of int) { return len(g.Told) - len(g.Wrong), len(g.Told) }
