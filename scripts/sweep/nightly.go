package main

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// The limits of a night: local shifts where the corners are known, boxes told, boxes sure
// and off by more than farOff, and corners that the program finds within nearCorner of a
// box, or asks for, where the sheet lies flat or its grid shows.
const (
	wantMedian, wantNinety = 0.012, 0.035
	wantTold, wantFar      = 0.75, 0.003
	farOff                 = 0.15
	nearCorner, wantFound  = 0.05, 0.95
)

// tally is what photos with one hard thing, or all, came to.
type tally struct {
	photos, with, told, far int
	errs                    []float64
	found, sought           int
}

func (t *tally) add(o tally) {
	t.photos, t.with, t.told, t.far = t.photos+o.photos, t.with+o.with, t.told+o.told, t.far+o.far
	t.errs = append(t.errs, o.errs...)
	t.found, t.sought = t.found+o.found, t.sought+o.sought
}

func (t tally) row(name string) string {
	slices.Sort(t.errs)
	at := func(share float64) float64 {
		if len(t.errs) == 0 {
			return math.NaN()
		}
		return t.errs[int(share*float64(len(t.errs)-1))]
	}
	return fmt.Sprintf("| %s | %d | %.3f | %.3f | %.3f | %.0f %% | %.2f %% | %.0f %% |", name, t.photos, at(0.5), at(0.9), at(0.99),
		100*float64(t.told)/float64(max(1, t.with)), 100*float64(t.far)/float64(max(1, t.told)), 100*float64(t.found)/float64(max(1, t.sought)))
}

// nightly measures so many photos of chance, each with its corners known and again without
// them, and prints what they came to; an error says which limit did not hold.
func nightly(photos int, seed uint64) error {
	rng := rand.New(rand.NewPCG(seed, 17))
	all, by := tally{}, map[string]*tally{}
	for range photos {
		c := demo.NewChance(rng)
		one, err := measured(c, rng)
		if err != nil {
			return err
		}
		all.add(one)
		for _, hard := range c.Hard {
			if by[hard] == nil {
				by[hard] = &tally{}
			}
			by[hard].add(one)
		}
	}
	fmt.Printf("| with | photos | median error | 90 %% under | 99 %% under | boxes told | sure and off by more than %.2f | corners found or asked |\n|---|---|---|---|---|---|---|---|\n", farOff)
	fmt.Println(all.row("all"))
	names := []string{}
	for name := range by {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Compare(by[b].photos, by[a].photos) })
	for _, name := range names {
		fmt.Println(by[name].row(name))
	}
	return all.holds()
}

func (t tally) holds() error {
	slices.Sort(t.errs)
	if len(t.errs) == 0 {
		return fmt.Errorf("nothing was told in %d photos", t.photos)
	}
	for _, limit := range []struct {
		what       string
		have, want float64
	}{
		{"median error", t.errs[len(t.errs)/2], wantMedian}, {"error of 90 %", t.errs[len(t.errs)*9/10], wantNinety},
		{"boxes not told", 1 - float64(t.told)/float64(t.with), 1 - wantTold}, {"sure and far off", float64(t.far) / float64(t.told), wantFar},
		{"corners lost", 1 - float64(t.found)/float64(t.sought), 1 - wantFound},
	} {
		if limit.have > limit.want {
			return fmt.Errorf("%s: %.4f; want at most %.4f", limit.what, limit.have, limit.want)
		}
	}
	return nil
}

// measured measures one photo of chance.
func measured(c demo.Chance, rng *rand.Rand) (tally, error) {
	t := tally{photos: 1, sought: 1}
	s, p, err := scene(rng.IntN(3))
	if err != nil {
		return t, err
	}
	distortion := waves(p, 0.12*rng.Float64(), rng.Uint64())
	c.Hand.Distortion = distortion
	shot, err := demo.Photograph(p, s, c.Hand, c.Camera, 0, 0, c.Tilt, rng)
	if err != nil {
		return t, err
	}
	img, err := picture.Decode(shot.Photo)
	if err != nil {
		return t, err
	}
	job := accuracy.Job{Plan: p, Reference: photo.NewShot(render.Pixels(s.Page, 10, nil)), Photo: photo.NewShot(img), Corners: &shot.Corners}
	r, err := accuracy.Measure(job)
	if err != nil {
		return t, err
	}
	for _, b := range r.Cells {
		if b.Lines < 0.15 {
			continue
		}
		if t.with++; b.Sure == accuracy.None {
			continue
		}
		t.told++
		off := apart(p, b, distortion)
		t.errs = append(t.errs, off...)
		if slices.Max(off) > farOff {
			t.far++
		}
	}
	if c.Hand.Erased && c.Camera.Lie != (demo.Lie{}) {
		t.sought = 0 // where no grid shows, nobody knows how the sheet is curled
		return t, nil
	}
	job.Corners = nil
	again, err := accuracy.Measure(job)
	if err != nil || again.Ask || !again.Measured || near(again.Corners, shot.Corners, again.Photo.PixelsPerCell) {
		t.found = 1
	}
	return t, nil
}

func near(a, b plane.Quad, cell float64) bool {
	for i := range a {
		if a[i].Sub(b[i]).Len() > nearCorner*cell {
			return false
		}
	}
	return true
}
