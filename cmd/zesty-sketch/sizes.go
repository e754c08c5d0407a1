package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
)

// sizesFormat names the version of what the command prints.
const sizesFormat = "zesty-sizes/1"

// sizesFile is zesty-sizes/1, docs/formats.md.
type sizesFile struct {
	Format string     `json:"format"`
	Sizes  []sizeFile `json:"sizes"`
}

type sizeFile struct {
	Plan    grid.Plan  `json:"plan"`
	Trim    [4]float64 `json:"trim_percent"` // left, right, top, bottom
	Score   float64    `json:"score"`
	Reasons []string   `json:"reasons"`
}

// papers is a flag that may be given several times.
type papers []string

func (p *papers) String() string         { return fmt.Sprint([]string(*p)) }
func (p *papers) Set(value string) error { *p = append(*p, value); return nil }

// levels are the classes as the command line and the pages say them.
var levels = map[string]grid.Skill{"": grid.Beginner, "beginning": grid.Beginner, "middle": grid.Middle, "practised": grid.Detailed}

// mostSizes bounds the proposals that are printed.
const mostSizes = 50

// sizesCommand prints the sizes that come out even for a picture, best first.
func sizesCommand(_ context.Context, args []string, std streams) error {
	var on papers
	f := flag.NewFlagSet("sizes", flag.ContinueOnError)
	file := f.String("picture", "", "the picture")
	f.Var(&on, "paper", "the drawing paper, 12x18in or A3; may be given several times")
	units := f.String("units", "in", "in or cm")
	level := f.String("level", "beginning", "beginning, middle or practised")
	minutes := f.Float64("minutes", 0, "of drawing there are; no limit if 0")
	n := f.Int("least", 3, "how many sizes are wanted; fewer come where there are no more")
	if err := parse(f, args, std); err != nil {
		return err
	}
	skill, known := levels[*level]
	switch {
	case *file == "":
		return fmt.Errorf("%w: give --picture", errUsage)
	case !known:
		return fmt.Errorf("%w: wanted --level beginning, middle or practised, got %q", errUsage, *level)
	case !(*minutes >= 0 && *minutes <= 6000):
		return fmt.Errorf("%w: wanted --minutes from 0 to 6000, got %g", errUsage, *minutes)
	case *n < 1 || *n > mostSizes:
		return fmt.Errorf("%w: wanted --least from 1 to %d, got %d", errUsage, mostSizes, *n)
	}
	img, err := readPicture(*file)
	if err != nil {
		return err
	}
	list, err := advised(grid.Request{Units: *units, Picture: [2]int{img.Rect.Dx(), img.Rect.Dy()}, Skill: string(skill)}, on, *minutes, *n)
	if err != nil {
		return err
	}
	out := sizesFile{Format: sizesFormat, Sizes: []sizeFile{}}
	for _, p := range list {
		one := sizeFile{Plan: p.Plan, Score: p.Score(), Reasons: p.Reasons}
		for i, share := range p.Trim {
			one.Trim[i] = share * 100
		}
		out.Sizes = append(out.Sizes, one)
	}
	show := json.NewEncoder(std.out)
	show.SetEscapeHTML(false)
	show.SetIndent("", "  ")
	return show.Encode(out)
}

// advised returns the best sizes for what is asked, on papers as they were typed.
func advised(ask grid.Request, on []string, minutes float64, n int) ([]grid.Proposal, error) {
	u, err := measure.ParseUnit(ask.Units)
	if err != nil {
		return nil, fmt.Errorf("%w: %w", errUsage, err)
	}
	frame, err := ask.AskedFrame()
	if err != nil {
		return nil, fmt.Errorf("%w: %w", errUsage, err)
	}
	a := grid.Advice{Wish: ask.Wish(u), Name: ask.Name, Frame: frame, Print: page.On(measure.OfficePaper(u).Size).Rooms(), MarkBy: grid.Way(ask.MarkBy)}
	if minutes > 0 {
		a.Minutes = minutes
	}
	for _, text := range on {
		size, err := measure.ParseSize(text, u)
		if err != nil || size.W <= 0 || size.H <= 0 {
			return nil, fmt.Errorf("%w: --paper: wanted a size such as 12x18in or A3, got %q", errUsage, text)
		}
		a.Papers = append(a.Papers, size)
	}
	list, err := grid.Advise(a, n)
	if errors.Is(err, grid.ErrAdvice) {
		return nil, fmt.Errorf("%w: %w", errUsage, err)
	}
	return list, err
}
