package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"os"
	"path/filepath"
	"strings"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/demo"
	"zestysketch/internal/press"
	"zestysketch/internal/render"
)

// pagesAsked adds the kinds of pages that were named with commas, and returns the paper's size.
func pagesAsked(spec press.Spec, kinds string) (press.Spec, measure.Size, error) {
	for k := range strings.SplitSeq(kinds, ",") {
		spec.Kinds = append(spec.Kinds, page.Kind(strings.TrimSpace(k)))
		if _, ok := sheet.KindNamed(spec.Kinds[len(spec.Kinds)-1]); !ok {
			return spec, measure.Size{}, fmt.Errorf("there is no page called %q; wanted some of %s", k, kindNames())
		}
	}
	spec, err := spec.Check()
	if err != nil {
		return spec, measure.Size{}, err
	}
	size, err := spec.Size()
	return spec, size, err
}

// pagesOf makes pages, and reads the picture's boxes in a file where one of them needs it.
func pagesOf(kinds []page.Kind, w sheet.Wish, file string) (pages []page.Page, err error) {
	for _, k := range kinds {
		if w.Boxes == nil && sheet.Reads(k, w.Help) && (file != "" || k != sheet.KindEyes) { // exercises can do without
			if w.Boxes, err = boxesIn(file, w.Plan); err != nil {
				return nil, err
			}
		}
		made, err := sheet.Pages(k, w)
		if err != nil {
			return nil, err
		}
		pages = append(pages, made...)
	}
	return pages, nil
}

// printCommand writes pages of a plan as PDF, SVG or PNG.
func printCommand(_ context.Context, args []string, std streams) error {
	var spec press.Spec
	var w sheet.Wish
	f := flag.NewFlagSet("print", flag.ContinueOnError)
	file := f.String("picture", "", "the picture; not needed for pages that show none")
	planFile := f.String("plan", "", "the plan, a zesty-plan/1 file")
	kinds := f.String("pages", "reference,marks", "kinds of pages with commas: "+kindNames())
	out := f.String("out", "", "file to write: .pdf, or .svg and .png with a file for each page")
	pretend := f.String("pretend", "", "for .png: as a pretend printer would print it, per cent across x down, such as 97x98.5")
	f.StringVar(&spec.Paper, "paper", "A4", "the printer's paper: A4, letter or a size")
	f.StringVar(&w.Who.Name, "student", "", "whose pages they are")
	f.BoolVar(&w.Grey, "grey", false, "the picture without colour")
	f.BoolVar(&w.UpsideDown, "upside-down", false, "the picture upside down")
	f.BoolVar(&w.Mirrored, "mirrored", false, "the picture mirrored, for a transfer that mirrors")
	f.BoolVar(&w.Faded, "faded", false, "the picture faded, to trace over")
	f.StringVar(&spec.Help, "see", "", "how far picture and cards help to see what is in a box: dots, words or lines")
	f.IntVar(&spec.Round, "round", 1, "which sheet of eye exercises")
	f.BoolVar(&w.MarksOnly, "marks-only", false, "the drawing sheet with marks and no lines")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *planFile == "" || *out == "" {
		return fmt.Errorf("%w: print needs --plan and --out", errUsage)
	}
	spec, size, err := pagesAsked(spec, *kinds)
	if err != nil {
		return fmt.Errorf("%w: %w", errUsage, err)
	}
	w.Printer = page.On(size)
	if w.Plan, err = readPlan(*planFile); err != nil {
		return err
	}
	if f, stopped := w.Plan.Stopped(); stopped {
		return fmt.Errorf("this plan must not be printed: %s %s", f.Message, f.Fix)
	}
	w.Class = []sheet.Who{w.Who}
	w.Help, w.Round = reading.Help(spec.Help), spec.Round
	pages, err := pagesOf(spec.Kinds, w, *file)
	if err != nil {
		return err
	}
	pictures, decoded, err := printed(*file, pages, w.Grey)
	if err != nil {
		return err
	}
	files, err := writePages(*out, pages, pictures, decoded, *pretend)
	if err != nil {
		return err
	}
	return json.NewEncoder(std.out).Encode(map[string]any{"pages": len(pages), "files": files})
}

// boxesIn reads what is in the boxes of a plan's picture.
func boxesIn(file string, p grid.Plan) ([]reading.Box, error) {
	if file == "" {
		return nil, fmt.Errorf("%w: these pages need what is in the picture's boxes; give it with --picture", errUsage)
	}
	img, err := readPicture(file)
	if err != nil {
		return nil, err
	}
	r, err := reading.Picture(p, img, picture.Look(img, img).Drawing, reading.Lines, reading.Thirds)
	return r.Boxes, err
}

func kindNames() string {
	var names []string
	for _, a := range sheet.Kinds {
		names = append(names, string(a.Kind))
	}
	return strings.Join(names, ", ")
}

func readPlan(file string) (grid.Plan, error) {
	b, err := os.ReadFile(file)
	if err != nil {
		return grid.Plan{}, err
	}
	p, err := grid.Decode(b)
	if err != nil {
		return p, fmt.Errorf("%s: %w", file, err)
	}
	return p, nil
}

// printed returns the picture as pages need it: upright, in a format that every
// page can hold. Pages that show none need none.
func printed(file string, pages []page.Page, grey bool) (render.Pictures, map[string]image.Image, error) {
	shown := false
	for _, p := range pages {
		for _, item := range p.Items {
			_, pic := item.(page.Picture)
			shown = shown || pic
		}
	}
	if !shown {
		return nil, nil, nil
	}
	if file == "" {
		return nil, nil, fmt.Errorf("%w: these pages show the picture; give it with --picture", errUsage)
	}
	img, err := readPicture(file)
	if err != nil {
		return nil, nil, err
	}
	name, look := sheet.FramePicture, image.Image(img)
	if grey {
		name, look = sheet.GreyOf(name), press.Grey(img)
	}
	var out bytes.Buffer
	if strings.EqualFold(filepath.Ext(file), ".png") {
		err = png.Encode(&out, look)
	} else {
		err = jpeg.Encode(&out, look, &jpeg.Options{Quality: 92})
	}
	return render.Pictures{name: out.Bytes()}, map[string]image.Image{name: look}, err
}

// printPPI is the resolution of pages written as PNG.
const printPPI = 200

// writePages writes the pages and returns the files' names. A file is there whole or not at all.
func writePages(out string, pages []page.Page, pictures render.Pictures, decoded map[string]image.Image, pretend string) ([]string, error) {
	ending := strings.ToLower(filepath.Ext(out))
	if ending == ".pdf" {
		var b bytes.Buffer
		if err := render.PDF(&b, strings.TrimSuffix(filepath.Base(out), filepath.Ext(out)), pages, pictures); err != nil {
			return nil, err
		}
		return []string{out}, whole(out, b.Bytes())
	}
	var files []string
	for i, p := range pages {
		var b bytes.Buffer
		var err error
		switch ending {
		case ".svg":
			err = render.SVG(&b, p, pictures.Inline)
		case ".png":
			err = pagePNG(&b, p, decoded, pretend)
		default:
			return nil, fmt.Errorf("%w: --out ends in .pdf, .svg or .png, got %q", errUsage, out)
		}
		if err != nil {
			return nil, err
		}
		name := out
		if len(pages) > 1 {
			name = fmt.Sprintf("%s-%d%s", strings.TrimSuffix(out, filepath.Ext(out)), i+1, ending)
		}
		if err := whole(name, b.Bytes()); err != nil {
			return nil, err
		}
		files = append(files, name)
	}
	return files, nil
}

func pagePNG(b *bytes.Buffer, p page.Page, decoded map[string]image.Image, pretend string) error {
	const perMM = printPPI / 25.4
	img := render.Pixels(p, perMM, decoded)
	if pretend == "" {
		return png.Encode(b, img)
	}
	var across, down float64
	if _, err := fmt.Sscanf(strings.ReplaceAll(pretend, "%", ""), "%fx%f", &across, &down); err != nil || !(across > 50 && across < 150 && down > 50 && down < 150) {
		return fmt.Errorf("%w: --pretend: wanted per cent across x down, such as 97x98.5, got %q", errUsage, pretend)
	}
	return png.Encode(b, demo.Printer{Across: across / 100, Down: down / 100, Margin: page.UsualMargin}.Print(img, perMM))
}

// whole writes a file beside its place and moves it there when it is complete.
func whole(name string, b []byte) error {
	f, err := os.CreateTemp(filepath.Dir(name), ".zesty-*")
	if err != nil {
		return err
	}
	defer os.Remove(f.Name()) // nothing is left of it once it was moved
	if _, err := f.Write(b); err != nil {
		f.Close()
		return err
	}
	if err := f.Close(); err != nil {
		return err
	}
	if err := os.Chmod(f.Name(), 0o644); err != nil {
		return err
	}
	return os.Rename(f.Name(), name)
}
