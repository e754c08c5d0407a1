package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"os"
	"slices"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
)

// landmarksFormat names the version of the landmarks file that check reads.
const landmarksFormat = "zesty-landmarks/1"

type landmarksFile struct {
	Format    string              `json:"format"`
	Tolerance float64             `json:"tolerance_cell"`
	Landmarks []accuracy.Landmark `json:"landmarks"`
}

// checkCommand measures a photographed drawing: where its corners are not
// given it looks for corner tags, the ruled grid or the sheet.
func checkCommand(_ context.Context, args []string, std streams) error {
	var j accuracy.Job
	var compare string
	f := flag.NewFlagSet("check", flag.ContinueOnError)
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	photoFile := f.String("photo", "", "photo of the drawing")
	cornersText := f.String("corners", "", `the outer grid rectangle in photo pixels: "x,y x,y x,y x,y", top left first, clockwise; without it, it is looked for`)
	marksFile := f.String("landmarks", "", "the landmarks, a zesty-landmarks/1 file; those without photo_px are looked for")
	file := f.String("picture", "", "the reference picture; without it only landmarks are measured")
	looseness := f.String("looseness", "", "exact, normal or loose; the tolerance in the landmarks file comes first")
	f.StringVar(&compare, "compare", "", "also compare: fold (the two halves), turn (one half turned half round) or views (several on one sheet)")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *planFile == "" || *photoFile == "" || *file == "" && *marksFile == "" {
		return fmt.Errorf("%w: check needs --plan and --photo, and --picture or --landmarks", errUsage)
	}
	j.Compare = accuracy.Compare(compare)
	if !slices.Contains(accuracy.Comparisons, j.Compare) {
		return fmt.Errorf("%w: --compare is fold, turn or views, got %q", errUsage, compare)
	}
	if *cornersText != "" {
		corners, err := accuracy.ParseCorners(*cornersText)
		if err != nil {
			return fmt.Errorf("%w: --corners: %w", errUsage, err)
		}
		j.Corners = &corners
	}
	if err := readCheck(&j, *planFile, *photoFile, *file, *marksFile); err != nil {
		return err
	}
	if j.Tolerance == 0 {
		j.Tolerance = accuracy.Looseness(*looseness).Tolerance()
	}
	report, err := accuracy.Measure(j)
	if err != nil {
		return err
	}
	out := json.NewEncoder(std.out)
	out.SetIndent("", "  ")
	return out.Encode(report)
}

func readCheck(j *accuracy.Job, planFile, photoFile, file, marksFile string) (err error) {
	if j.Plan, err = readPlan(planFile); err != nil {
		return err
	}
	if marksFile != "" {
		marks, err := readMarks(marksFile)
		if err != nil {
			return err
		}
		j.Marks, j.Tolerance = marks.Landmarks, marks.Tolerance
	}
	shot, err := readPicture(photoFile)
	if err != nil {
		return err
	}
	j.Photo = photo.NewShot(shot)
	if j.Corners != nil {
		if err := insidePhoto(shot.Rect, *j.Corners); err != nil {
			return err
		}
	}
	if file == "" {
		return nil
	}
	ref, err := readPicture(file)
	if err != nil {
		return err
	}
	j.Reference, j.Tonal = photo.NewShot(ref), !picture.Look(ref, ref).Drawing
	return nil
}

func readMarks(file string) (marks landmarksFile, err error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return marks, err
	}
	strict := json.NewDecoder(bytes.NewReader(b))
	strict.DisallowUnknownFields()
	if err := strict.Decode(&marks); err != nil {
		return marks, fmt.Errorf("%s: wanted a %s file: %w", file, landmarksFormat, err)
	}
	if marks.Format != landmarksFormat {
		return marks, fmt.Errorf("%s: wanted the format %s, got %q", file, landmarksFormat, marks.Format)
	}
	return marks, nil
}

// insidePhoto says so where corners cannot belong to the photo.
func insidePhoto(r image.Rectangle, corners plane.Quad) error {
	for i, c := range corners {
		if c.X < 0 || c.Y < 0 || c.X > float64(r.Dx()) || c.Y > float64(r.Dy()) {
			return fmt.Errorf("corner %d at %g,%g lies outside the photo of %d × %d pixels; was it turned upright?", i+1, c.X, c.Y, r.Dx(), r.Dy())
		}
	}
	return nil
}
