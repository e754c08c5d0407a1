package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"

	"zestysketch/internal/core/page"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/tiles"
)

// tilesCommand rearranges the tiles of a plan's grid by a seed.
func tilesCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("tiles", flag.ContinueOnError)
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	seed := f.Uint64("seed", 1, "every seed has its own rearrangement, the same every time")
	flips := f.Bool("flips", true, "some tiles are laid face down")
	file := f.String("picture", "", "with --out: the picture, to show the result")
	out := f.String("out", "", "write the maps of the new places and the old, and with --picture the result: .pdf, or .svg and .png with a file for each page")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *planFile == "" {
		return fmt.Errorf("%w: tiles needs --plan", errUsage)
	}
	plan, err := readPlan(*planFile)
	if err != nil {
		return err
	}
	m, err := tiles.Shuffle(plan, *seed, *flips)
	if err != nil {
		return err
	}
	if *out != "" {
		if *file == "" {
			plan.Frame = nil // the maps alone
		}
		pages := []page.Page{sheet.TileMap(plan, m), sheet.TileSource(plan)}
		if plan.Frame != nil {
			pages = append(pages, sheet.TilePreview(plan, m))
		}
		pictures, decoded, err := printed(*file, pages, false)
		if err != nil {
			return err
		}
		if _, err := writePages(*out, pages, pictures, decoded, ""); err != nil {
			return err
		}
	}
	printing := json.NewEncoder(std.out)
	printing.SetIndent("", "  ")
	return printing.Encode(m)
}
