package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"slices"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
)

// boxesCommand says what is in every box of a picture: where its lines enter and leave,
// how they go and what stays empty.
func boxesCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("boxes", flag.ContinueOnError)
	file := f.String("picture", "", "the picture")
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	from := f.String("from", string(reading.Lines), "what is read: lines, or values, the borders between four steps of tone")
	finest := f.String("finest", string(reading.Thirds), "the finest fraction in words: halves, quarters, thirds or tenths")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *file == "" || *planFile == "" {
		return fmt.Errorf("%w: boxes needs --picture and --plan", errUsage)
	}
	if !slices.Contains(reading.Fractions, reading.Finest(*finest)) {
		return fmt.Errorf("%w: --finest is halves, quarters, thirds or tenths, got %q", errUsage, *finest)
	}
	if s := reading.Source(*from); s != reading.Lines && s != reading.Borders {
		return fmt.Errorf("%w: --from is lines or values, got %q", errUsage, *from)
	}
	p, err := readPlan(*planFile)
	if err != nil {
		return err
	}
	img, err := readPicture(*file)
	if err != nil {
		return err
	}
	r, err := reading.Picture(p, img, picture.Look(img, img).Drawing, reading.Source(*from), reading.Finest(*finest))
	if err != nil {
		return err
	}
	return json.NewEncoder(std.out).Encode(r)
}
