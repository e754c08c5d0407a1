package demo

import (
	"bytes"
	"image/png"
	"math/rand/v2"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/render"
)

// Table is how much of the desk is free round a single paper, mm: room for tags.
const Table = 60.0

// Shot is a photographed drawing of which everything is known.
type Shot struct {
	Photo     []byte // JPEG
	Corners   plane.Quad
	Landmarks []accuracy.Landmark // with the places where the camera knows them to be
}

// Photograph has a hand draw a scene by a plan, lays the drawing on a desk,
// with tags for a project and student that are not 0, and photographs it from
// above. Tilt is how far, as a share of the desk's width, the camera's corners
// stray from straight down.
func Photograph(p grid.Plan, s Scene, h Hand, c Camera, project, student uint64, tilt float64, rng *rand.Rand) (Shot, error) {
	stock := p.StockSize()
	desk := NewDesk(measure.Size{W: stock.W + 4*Table, H: stock.H + 4*Table})
	at := pt(2*Table, 2*Table)
	c.Lie.Paper = plane.Rect{Min: at, Max: at.Add(pt(float64(stock.W), float64(stock.H)))}
	home := desk.Lay(p, h.Draw(p, s, rng), at, h.Dark)
	if c.Company {
		desk.accompany(c.Lie.Paper)
	}
	if project != 0 {
		if err := desk.Tag(p, project, student, home, rng); err != nil {
			return Shot{}, err
		}
	}
	c.From = c.above(float64(stock.W)+2*Table, float64(stock.H)+2*Table, pt(Table, Table), tilt, rng)
	photo, err := c.Shoot(desk, rng)
	if err != nil {
		return Shot{}, err
	}
	shot := Shot{Photo: photo}
	if shot.Corners, err = c.Corners(p, home); err != nil {
		return Shot{}, err
	}
	for _, m := range s.Landmarks {
		at := h.place(p, s, m.At)
		px, err := c.Sees(pt(home.X+at.X, home.Y+at.Y))
		if err != nil {
			return Shot{}, err
		}
		on := p.FromPicture(plane.Pt(m.At.X*perMM, m.At.Y*perMM))
		shot.Landmarks = append(shot.Landmarks, accuracy.Landmark{Name: m.Name, Weight: float64(m.Weight), Reference: on, Photo: &px})
	}
	return shot, nil
}

// above returns the part of the desk that a camera of this shape sees when it
// is to show w × h millimetres from a place.
func (c Camera) above(w, h float64, at plane.Point, tilt float64, rng *rand.Rand) (q plane.Quad) {
	shape := float64(c.Width) / float64(c.Height)
	x, y := at.X, at.Y
	if w/h < shape {
		x, w = x-(h*shape-w)/2, h*shape
	} else {
		y, h = y-(w/shape-h)/2, w/shape
	}
	for i, corner := range plane.Box(w, h) {
		q[i] = plane.Pt(x+corner.X+(rng.Float64()*2-1)*tilt*w, y+corner.Y+(rng.Float64()*2-1)*tilt*w)
	}
	return q
}

// Sample is a picture, its plan, and a photographed drawing of known error.
type Sample struct {
	Shot
	Picture []byte // PNG
	Plan    grid.Plan
	Slips   map[string]plane.Point // landmark to how far it was put wrong, mm on the sheet
}

// HarbourLight returns the scene of the demo's main project, and its plan.
func HarbourLight() (Scene, grid.Plan, error) {
	sc := harbourLight()
	plan, err := grid.Make(grid.Request{Name: sc.Page.Title, Picture: [2]int{175 * perMM, 225 * perMM},
		Reference: "7 in", Paper: "12 x 18 in", ReferenceSquare: "1 in", SheetSquare: "1 1/2 in"})
	return sc, plan, err
}

// NewSample returns the harbour light, drawn well but for the top of its door,
// which is half a box too far left, and without corner tags.
func NewSample() (Sample, error) {
	sc, plan, err := HarbourLight()
	if err != nil {
		return Sample{}, err
	}
	rng := rand.New(rand.NewPCG(1, 1))
	var file bytes.Buffer
	if err := png.Encode(&file, render.Pixels(sc.Page, perMM, nil)); err != nil {
		return Sample{}, err
	}
	s := Sample{Picture: file.Bytes(), Plan: plan, Slips: map[string]plane.Point{"Top of the door": {X: -0.5 * plan.Grid.SheetCell[0]}}}
	hand := Hand{Size: 1, Unsteady: 0.2, PencilWeight: 1.2, Slips: s.Slips}
	s.Shot, err = Photograph(plan, sc, hand, Camera{Width: 1200, Height: 1600, Dim: 0.3, Noise: 3}, 0, 0, 0.02, rng)
	return s, err
}
