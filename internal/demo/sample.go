package demo

import (
	"bytes"
	"image/png"
	"math/rand/v2"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
)

// Sample is a picture, its plan, and a photographed drawing of known error.
type Sample struct {
	Picture   []byte // PNG
	Plan      grid.Plan
	Photo     []byte // JPEG
	Corners   [4][2]float64
	Landmarks []accuracy.Landmark   // with the places where the camera knows them to be
	Slips     map[string]grid.Point // landmark to how far it was put wrong, mm on the sheet
}

// NewSample returns the harbour light, drawn well but for the top of its door,
// which is half a box too far left.
func NewSample() (Sample, error) {
	sc, rng := harbourLight(), rand.New(rand.NewPCG(1, 1))
	var file bytes.Buffer
	if err := png.Encode(&file, render.Pixels(sc.page, perMM, nil)); err != nil {
		return Sample{}, err
	}
	plan, err := grid.Make(grid.Request{Name: sc.page.Title, Picture: [2]int{175 * perMM, 225 * perMM},
		Reference: "7 in", Paper: "12 x 18 in", ReferenceSquare: "1 in", SheetSquare: "1 1/2 in"})
	if err != nil {
		return Sample{}, err
	}
	s := Sample{Picture: file.Bytes(), Plan: plan, Slips: map[string]grid.Point{"Top of the door": {X: -0.5 * plan.Grid.SheetCell[0]}}}
	d := drawing{hand: student{Size: 1, Unsteady: 0.2, PencilWeight: 1.2, Slips: s.Slips},
		camera: camera{1200, 1600, picture.Quad{{X: 181, Y: 190}, {X: 1040, Y: 172}, {X: 1082, Y: 1311}, {X: 128, Y: 1290}}, 0.3, 3}}
	const fine = 4.0
	if s.Photo, err = d.camera.shoot(plan, d.hand.draw(plan, sc, fine, rng), fine, rng); err != nil {
		return Sample{}, err
	}
	s.Corners, s.Landmarks, err = truth(plan, sc, d)
	return s, err
}

// truth returns where the grid's corners and the scene's landmarks are in the photo.
func truth(plan grid.Plan, sc scene, d drawing) (corners [4][2]float64, marks []accuracy.Landmark, err error) {
	toPhoto, err := picture.NewHomography(picture.Box(plan.Sheet.Width, plan.Sheet.Height), d.camera.Corners)
	if err != nil {
		return corners, nil, err
	}
	for i, c := range d.camera.Corners {
		corners[i] = [2]float64{c.X, c.Y}
	}
	for _, m := range sc.landmarks {
		at := toPhoto.Apply(picture.Point(d.hand.place(plan, sc, m.at)))
		on := plan.FromPicture(sheet.Point{X: m.at.X * perMM, Y: m.at.Y * perMM})
		marks = append(marks, accuracy.Landmark{Name: m.name, Weight: float64(m.weight), Reference: [2]float64{on.X, on.Y}, Photo: [2]float64{at.X, at.Y}})
	}
	return corners, marks, nil
}
