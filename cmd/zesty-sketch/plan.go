package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"image"
	"os"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
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
	f.StringVar(&printed, "printed-width", "", "how wide the picture is printed, with --picture; 8in, or as it comes out even where no square, part or width is given")
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
		ask.Picture = [2]int{img.Rect.Dx(), img.Rect.Dy()}
		if ask, err = sized(ask, printed); err != nil {
			return err
		}
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

// sized settles the print's width: as it was given, or, where nothing is said of
// squares, parts or size, with all that the best of the proposals settles.
func sized(ask grid.Request, printed string) (grid.Request, error) {
	ask.Reference = printed
	if printed == "" {
		ask.Reference = "8in"
	}
	free := printed == "" && ask.Paper != ""
	for _, said := range []string{ask.ReferenceSquare, ask.SheetSquare, ask.Parts, ask.Method, ask.Scale, ask.Round, ask.Fit, ask.Margin, ask.Strip, ask.Room, ask.Panels, ask.Remainder, ask.Split} {
		free = free && said == ""
	}
	if !free {
		return ask, nil
	}
	if ask.Units == "" {
		ask.Units = string(measure.Inch)
	}
	list, err := advised(ask, []string{ask.Paper}, 0, 1)
	if errors.Is(err, grid.ErrAdvice) {
		return ask, nil // nothing comes out even: as it is asked for
	}
	if err != nil {
		return ask, err
	}
	best := list[0].Plan.Typed
	return ask.Set(map[string]string{"reference": best.Reference, "reference_square": best.ReferenceSquare,
		"sheet_square": best.SheetSquare, "method": best.Method, "parts": best.Parts, "fit": best.Fit,
		"frame": best.Frame}), nil
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
