package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"path/filepath"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
	"zestysketch/internal/render"
)

// mapSide is the longer side, in pixels, on which a value map is made: finer
// than a pencil's point on any sheet that is printed.
const mapSide = 1600

// valuesCommand writes a picture's value map and says what it covers.
func valuesCommand(_ context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("values", flag.ContinueOnError)
	file := f.String("picture", "", "the picture")
	width := f.String("width", "", "how wide it is printed, such as 200mm")
	out := f.String("out", "", "file to write: .svg, .pdf at true size, or .png")
	least := f.String("least-area", "20mm2", "the smallest area that is kept, in mm²")
	neck := f.String("neck", "0.5mm", "what is thinner than this, a pencil's line, is closed or cut through")
	cuts := f.String("cuts", "", "with --rule hand: where the steps part, L* from 0 to 100 with commas")
	style := f.String("style", string(sheet.ValueOutlines), "outlines (numbered), filled, inverted for black paper, or figure: the main outlines alone")
	w := values.Wish{}
	f.IntVar(&w.Steps, "steps", 4, "steps of tone, 2 to 7")
	rule := f.String("rule", string(values.Otsu), "how tones are parted: light, area, otsu or hand")
	if err := parse(f, args, std); err != nil {
		return err
	}
	if *file == "" || *width == "" || *out == "" {
		return fmt.Errorf("%w: values needs --picture, --width and --out", errUsage)
	}
	w.Rule = values.Rule(*rule)
	wide, err := readSizes(&w, *width, *neck, *least, *cuts)
	if err != nil {
		return fmt.Errorf("%w: %w", errUsage, err)
	}
	looks := sheet.ValueStyle(*style)
	if !slices.Contains([]sheet.ValueStyle{sheet.ValueOutlines, sheet.ValueFilled, sheet.ValueInverted, sheet.ValueFigure}, looks) {
		return fmt.Errorf("%w: --style is outlines, filled, inverted or figure, got %q", errUsage, *style)
	}
	img, err := readPicture(*file)
	if err != nil {
		return err
	}
	img = picture.Shrink(img, mapSide)
	w.PerMM = float64(img.Rect.Dx()) / float64(wide)
	if looks == sheet.ValueFigure {
		w = w.Figure(float64(wide) * float64(img.Rect.Dy()) / w.PerMM)
	}
	m, err := values.New(img, w)
	if err != nil {
		return fmt.Errorf("%w: %w", errUsage, err)
	}
	if err := writeValues(*out, m, looks); err != nil {
		return err
	}
	return json.NewEncoder(std.out).Encode(summary(m, *out))
}

// readSizes reads the lengths and numbers of a wish and returns the printed width.
func readSizes(w *values.Wish, width, neck, least, cuts string) (measure.Length, error) {
	wide, err := measure.Parse(width, measure.Millimetre)
	if err != nil {
		return 0, fmt.Errorf("--width: %w", err)
	}
	if wide <= 0 {
		return 0, fmt.Errorf("--width must be more than 0, got %q", width)
	}
	thin, err := measure.Parse(neck, measure.Millimetre)
	if err != nil {
		return 0, fmt.Errorf("--neck: %w", err)
	}
	w.Neck = float64(thin)
	if w.LeastArea, err = strconv.ParseFloat(strings.TrimSuffix(strings.TrimSuffix(strings.TrimSpace(least), "mm2"), "mm²"), 64); err != nil {
		return 0, fmt.Errorf("--least-area: wanted square millimetres such as 20mm2, got %q", least)
	}
	for c := range strings.SplitSeq(cuts, ",") {
		if c = strings.TrimSpace(c); c == "" {
			continue
		}
		v, err := strconv.ParseFloat(c, 64)
		if err != nil {
			return 0, fmt.Errorf("--cuts: wanted numbers with commas, got %q", cuts)
		}
		w.Cuts = append(w.Cuts, v)
	}
	return wide, nil
}

func writeValues(out string, m values.Map, style sheet.ValueStyle) error {
	if strings.EqualFold(filepath.Ext(out), ".svg") {
		var b bytes.Buffer
		if err := render.ValueSVG(&b, m, style == sheet.ValueOutlines || style == sheet.ValueFigure, style == sheet.ValueInverted); err != nil {
			return err
		}
		return whole(out, b.Bytes())
	}
	_, err := writePages(out, []page.Page{sheet.ValueMap(m, sheet.ValueLook{Style: style})}, nil, nil, "")
	return err
}

// valueSummary is what values prints.
type valueSummary struct {
	File   string      `json:"file"`
	Size   [2]float64  `json:"size_mm"`
	Areas  int         `json:"areas"`
	Least  float64     `json:"least_area_mm2"`
	Levels []valueStep `json:"steps"`
	Note   string      `json:"note,omitempty"`
}

type valueStep struct {
	Step  int     `json:"step"` // 1 is the darkest
	Light float64 `json:"lightness"`
	Share float64 `json:"share"`
	Areas int     `json:"areas"`
	Grade string  `json:"pencil"`
}

func summary(m values.Map, out string) valueSummary {
	s := valueSummary{File: out, Size: [2]float64{float64(m.W) / m.PerMM, float64(m.H) / m.PerMM}, Areas: len(m.Areas)}
	for i, l := range m.Levels {
		s.Levels = append(s.Levels, valueStep{Step: i + 1, Light: l.Light, Share: l.Share, Areas: l.Areas, Grade: l.Grade})
	}
	for i, a := range m.Areas {
		if mm2 := m.MM2(a); i == 0 || mm2 < s.Least {
			s.Least = mm2
		}
	}
	if used := len(m.Levels) - m.Unused(); used < len(m.Levels) {
		s.Note = fmt.Sprintf("Only %d of %d steps are used: the picture has no more tones that fill an area of this size. Ask for fewer steps, or a smaller least area.", used, len(m.Levels))
	}
	return s
}
