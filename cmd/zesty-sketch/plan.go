package main

import (
	"context"
	"flag"
	"fmt"
	"image"
	"os"
	"strings"

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
