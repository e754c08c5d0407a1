package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"os"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/survey"
)

// planCommand prints the plan for sizes, or for a picture's own ratio.
func planCommand(_ context.Context, args []string, std streams) error {
	var ask grid.Request
	var file, printed string
	f := flag.NewFlagSet("plan", flag.ContinueOnError)
	for _, field := range ask.Fields() {
		f.StringVar(field.Value, strings.ReplaceAll(field.Name, "_", "-"), "", field.What)
	}
	f.StringVar(&file, "picture", "", "take the ratio, and the line colour that stands out, from this picture")
	f.StringVar(&printed, "printed-width", "8in", "how wide the picture is printed, with --picture")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if (ask.Reference == "") == (file == "") {
		return fmt.Errorf("%w: give either --reference or --picture", errUsage)
	}
	var img *image.RGBA
	if file != "" {
		var err error
		if img, err = readPicture(file); err != nil {
			return err
		}
		ask.Reference, ask.Picture = printed, [2]int{img.Rect.Dx(), img.Rect.Dy()}
	}
	plan, err := grid.Make(ask)
	if grid.ProblemsOf(err) != nil {
		return fmt.Errorf("%w: %w", errUsage, err)
	}
	if err != nil {
		return err
	}
	if img != nil {
		plan = plan.WithContrast(survey.Contrast(img, plan), picture.Look(img, img).Drawing)
	}
	out, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	_, err = std.out.Write(out)
	return err
}

func readPicture(file string) (*image.RGBA, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	img, err := picture.Decode(b)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	return img, nil
}

// landmarksFormat names the version of the landmarks file that check reads.
const landmarksFormat = "zesty-landmarks/1"

type landmarksFile struct {
	Format    string              `json:"format"`
	Tolerance float64             `json:"tolerance_cell"`
	Landmarks []accuracy.Landmark `json:"landmarks"`
}

// checkCommand measures a photographed drawing.
func checkCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("check", flag.ContinueOnError)
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	photoFile := f.String("photo", "", "photo of the drawing")
	cornersText := f.String("corners", "", `the outer grid rectangle in photo pixels: "x,y x,y x,y x,y", top left first, clockwise`)
	file := f.String("picture", "", "the reference picture")
	if err := parse(f, args, std); err != nil {
		return err
	}
	corners, err := accuracy.ParseCorners(*cornersText)
	if err != nil {
		return fmt.Errorf("%w: --corners: %w", errUsage, err)
	}
	plan, err := readPlan(*planFile)
	if err != nil {
		return err
	}
	ref, err := readPicture(*file)
	if err != nil {
		return err
	}
	shot, err := readPicture(*photoFile)
	if err != nil {
		return err
	}
	r, err := accuracy.Measure(accuracy.Job{Plan: plan, Reference: ref, Tonal: !picture.Look(ref, ref).Drawing, Photo: shot, Corners: corners, Tolerance: accuracy.NormalTolerance})
	if err != nil {
		return err
	}
	out := json.NewEncoder(std.out)
	out.SetIndent("", "  ")
	return out.Encode(r)
}

func readCheck(planFile, marksFile string) (plan grid.Plan, marks landmarksFile, err error) {
	if plan, err = readPlan(planFile); err != nil {
		return plan, marks, err
	}
	b, err := os.ReadFile(marksFile)
	if err != nil {
		return plan, marks, err
	}
	strict := json.NewDecoder(bytes.NewReader(b))
	strict.DisallowUnknownFields()
	if err := strict.Decode(&marks); err != nil {
		return plan, marks, fmt.Errorf("%s: wanted a %s file: %w", marksFile, landmarksFormat, err)
	}
	if marks.Format != landmarksFormat {
		return plan, marks, fmt.Errorf("%s: wanted the format %s, got %q", marksFile, landmarksFormat, marks.Format)
	}
	if marks.Tolerance == 0 {
		marks.Tolerance = accuracy.NormalTolerance
	}
	return plan, marks, nil
}

