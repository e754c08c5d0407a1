package accuracy

import (
	"math"
	"slices"
)

// A box has tone if its picture is so much darker than paper, in L* ÷ 100; tones are
// the picture's, not a shadow's, if their order agrees so far with its. A box of a
// picture in lines is toned over if all its quarters are so dark and so rough, as a
// share of white: a shadow is smooth, a pencil's tone has the paper's tooth.
const (
	leastTone  = 0.12
	toneAgrees = 0.5
	tonedOver  = 0.15
	roughTone  = 0.02
)

// toned returns how much of each box's tone is there, 1 where a picture in lines was
// toned over: in a toned drawing soft edges, and lines in the dark, are not found, and
// its boxes are drawn all the same.
func (d Seen) toned() []float64 {
	wanted, drawn, least := make([]float64, d.net.count()), make([]float64, d.net.count()), make([]float64, d.net.count())
	if d.Even.Dark {
		return drawn
	}
	for box := range wanted {
		least[box] = 1
		for part := range 4 {
			at := d.part(box, part)
			here := 1 - mean(d.Even.Tone, at)
			wanted[box] += (1 - mean(d.light, at)) / 4
			drawn[box] += here / 4
			least[box] = min(least[box], here)
		}
	}
	out := make([]float64, len(wanted))
	if d.Tonal {
		if Spearman(wanted, drawn) >= toneAgrees {
			for box, w := range wanted {
				if w >= leastTone && drawn[box] >= leastTone/2 {
					out[box] = drawn[box] / w
				}
			}
		}
		return out
	}
	for box := range out {
		if least[box] > tonedOver && d.roughness(box) > roughTone {
			out[box] = 1
		}
	}
	return out
}

// roughness returns how much a pixel of a box usually differs from the next but one.
func (d Seen) roughness(box int) float64 {
	var steps []float32
	for part := range 4 {
		at := d.part(box, part)
		for y := max(0, at[1]); y < min(d.Even.Ink.H, at[3]); y += 3 {
			row := d.Even.Ink.Row(y)
			for x := max(0, at[0]); x+2 < min(d.Even.Ink.W, at[2]); x += 3 {
				steps = append(steps, max(row[x]-row[x+2], row[x+2]-row[x]))
			}
		}
	}
	if len(steps) == 0 {
		return math.Inf(1)
	}
	slices.Sort(steps)
	return float64(steps[len(steps)/2])
}
