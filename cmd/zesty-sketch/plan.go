package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"os"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
)

// planCommand prints the plan for sizes, or for a picture's own ratio.
func planCommand(_ context.Context, args []string, std streams) error {
	var ask grid.Request
	var file, printed string
	f := flag.NewFlagSet("plan", flag.ContinueOnError)
	f.StringVar(&ask.Name, "name", "", "the plan's name, printed on every page")
	f.StringVar(&ask.Reference, "reference", "", "printed size of the picture, such as 8x9.5in")
	f.StringVar(&file, "picture", "", "take the ratio from this picture instead")
	f.StringVar(&printed, "printed-width", "8in", "how wide the picture is printed, with --picture")
	f.StringVar(&ask.Paper, "paper", "", "the drawing paper, such as 12x18in or A3")
	f.StringVar(&ask.Fit, "fit", "", "width, height or inside")
	f.StringVar(&ask.Round, "round", "", "round the worked-out side to 1/4in, 5mm …")
	f.StringVar(&ask.Method, "method", "", "squares, parts or quarters")
	f.StringVar(&ask.ReferenceSquare, "reference-square", "", "square on the picture; proposed if left out")
	f.StringVar(&ask.SheetSquare, "sheet-square", "", "square on the sheet")
	f.StringVar(&ask.Scale, "scale", "", "how much to enlarge, such as 1.5")
	f.StringVar(&ask.Parts, "parts", "", "parts across x down, such as 4x4")
	f.StringVar(&ask.Letters, "letters", "", "across or down")
	f.StringVar(&ask.Units, "units", "", "in, cm or mm")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if (ask.Reference == "") == (file == "") {
		return fmt.Errorf("%w: give either --reference or --picture", errUsage)
	}
	if file != "" {
		b, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		img, err := picture.Decode(b)
		if err != nil {
			return fmt.Errorf("%s: %w", file, err)
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
	out, err := grid.Encode(plan)
	if err != nil {
		return err
	}
	_, err = std.out.Write(out)
	return err
}

// landmarksFormat names the version of the landmarks file that check reads.
const landmarksFormat = "zesty-landmarks/1"

type landmarksFile struct {
	Format    string              `json:"format"`
	Tolerance float64             `json:"tolerance_cell"`
	Landmarks []accuracy.Landmark `json:"landmarks"`
}

// checkCommand measures a drawing's landmarks from corners and places given by hand.
func checkCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("check", flag.ContinueOnError)
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	photo := f.String("photo", "", "photo of the drawing")
	cornersText := f.String("corners", "", `the outer grid rectangle in photo pixels: "x,y x,y x,y x,y", top left first, clockwise`)
	marksFile := f.String("landmarks", "", "the landmarks, a zesty-landmarks/1 file")
	f.String("picture", "", "the reference picture; not needed where landmarks are given")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *planFile == "" || *photo == "" || *cornersText == "" || *marksFile == "" {
		return fmt.Errorf("%w: check needs --plan, --photo, --corners and --landmarks", errUsage)
	}
	corners, err := accuracy.ParseCorners(*cornersText)
	if err != nil {
		return fmt.Errorf("%w: --corners: %w", errUsage, err)
	}
	plan, marks, err := readCheck(*planFile, *marksFile)
	if err != nil {
		return err
	}
	if err := insidePhoto(*photo, corners); err != nil {
		return err
	}
	report, err := accuracy.Check(plan, corners, marks.Landmarks, marks.Tolerance)
	if err != nil {
		return err
	}
	out := json.NewEncoder(std.out)
	out.SetIndent("", "  ")
	return out.Encode(report)
}

func readCheck(planFile, marksFile string) (plan grid.Plan, marks landmarksFile, err error) {
	b, err := os.ReadFile(planFile)
	if err != nil {
		return plan, marks, err
	}
	if plan, err = grid.Decode(b); err != nil {
		return plan, marks, fmt.Errorf("%s: %w", planFile, err)
	}
	if b, err = os.ReadFile(marksFile); err != nil {
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

// insidePhoto says so where corners cannot belong to the photo.
func insidePhoto(file string, corners [4][2]float64) error {
	b, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	img, err := picture.Decode(b)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	w, h := float64(img.Rect.Dx()), float64(img.Rect.Dy())
	for i, c := range corners {
		if c[0] < 0 || c[1] < 0 || c[0] > w || c[1] > h {
			return fmt.Errorf("corner %d at %g,%g lies outside the photo of %g × %g pixels; was it turned upright?", i+1, c[0], c[1], w, h)
		}
	}
	return nil
}
