package lesson

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/core/grid"
)

// Material is something a stage needs.
type Material struct {
	Name  string  `json:"name"`
	Each  float64 `json:"each"`            // per student; a quarter is one for four
	Spare float64 `json:"spare,omitempty"` // share on top, for what breaks or is spoilt
	Used  bool    `json:"used,omitempty"`  // used up: it cannot be lent to the next class
}

// String writes a material as ParseMaterial reads it.
func (m Material) String() string {
	s := strconv.FormatFloat(m.Each, 'g', 4, 64) + " " + m.Name
	if n := math.Round(1 / m.Each); m.Each > 0 && m.Each < 1 && math.Abs(m.Each*n-1) < 0.01 {
		s = fmt.Sprintf("1 for %g %s", n, m.Name)
	}
	if m.Spare > 0 {
		s += fmt.Sprintf(", %g %% spare", math.Round(1000*m.Spare)/10)
	}
	if m.Used {
		s += ", used up"
	}
	return s
}

// ErrMaterial is wrapped by the error of ParseMaterial.
var ErrMaterial = errors.New("not a material")

var (
	materialHead  = regexp.MustCompile(`^(?:(\d+(?:\.\d+)?)(?: for (\d+))? )?(.+)$`)
	materialSpare = regexp.MustCompile(`^(\d+(?:\.\d+)?) ?% spare$`)
)

// ParseMaterial reads a material: how many each, or for how many students one is, its name,
// what share is spare, and whether it is used up, as “2 soft pencils, 10 % spare, used up” or
// “1 for 4 sharpener”. Without a number it is one each.
func ParseMaterial(s string) (m Material, err error) {
	parts := strings.Split(s, ",")
	head := materialHead.FindStringSubmatch(strings.TrimSpace(parts[0]))
	if head == nil {
		return m, fmt.Errorf("%w: wanted such as “2 soft pencils” or “1 for 4 sharpener”, got “%s”", ErrMaterial, s)
	}
	m = Material{Name: head[3], Each: 1}
	if head[1] != "" {
		m.Each, _ = strconv.ParseFloat(head[1], 64)
	}
	if head[2] != "" {
		n, _ := strconv.ParseFloat(head[2], 64)
		m.Each /= max(n, 1)
	}
	for _, part := range parts[1:] {
		part = strings.TrimSpace(part)
		spare := materialSpare.FindStringSubmatch(part)
		switch {
		case part == "used up":
			m.Used = true
		case spare != nil:
			m.Spare, _ = strconv.ParseFloat(spare[1], 64)
			m.Spare /= 100
		default:
			return m, fmt.Errorf("%w: “%s” is neither “10 %% spare” nor “used up”", ErrMaterial, part)
		}
	}
	return m, nil
}

// Supply is how much of a material a class needs over all its stages.
type Supply struct {
	Material
	Stages []string
	Need   int
}

// Supplies returns what a class of n needs for the stages that are on, in the
// order of the work. A thing that several stages need is needed once, unless
// it is used up.
func (r Road) Supplies(n int) (list []Supply) {
	for _, s := range r.On() {
		for _, m := range s.Materials() {
			need := int(math.Ceil(float64(n)*m.Each*(1+m.Spare) - 1e-9))
			i := slices.IndexFunc(list, func(o Supply) bool { return o.Name == m.Name })
			switch {
			case i < 0:
				list = append(list, Supply{m, []string{s.Name()}, need})
			case m.Used:
				list[i].Need += need
				list[i].Stages = append(list[i].Stages, s.Name())
			default:
				list[i].Need = max(list[i].Need, need)
				list[i].Stages = append(list[i].Stages, s.Name())
			}
		}
	}
	return list
}

// rulers is what a sheet is marked up with where nobody said.
const rulers = "ruler or printed strips"

// MarkedBy returns the road with what its sheet is marked up with in the place of a ruler.
func (r Road) MarkedBy(w grid.Way) Road {
	with := map[grid.Way][]Material{
		grid.ByRuler:     {{"ruler", 1, 0.1, false}},
		grid.ByYardstick: {{"yardstick", 0.25, 0, false}},
		grid.ByTSquare:   {{"board", 1, 0, false}, {"T-square", 1, 0, false}, {"roll of tape", 0.25, 0, false}},
		grid.ByFolding:   {},
		grid.ByStrip:     {{"printed strips", 1, 0.1, false}, {"scissors", 0.5, 0, false}},
	}[w]
	r.Stages = slices.Clone(r.Stages)
	for i := range r.Stages {
		needs := r.Stages[i].Materials()
		if at := slices.IndexFunc(needs, func(m Material) bool { return m.Name == rulers }); at >= 0 && with != nil {
			r.Stages[i].Needs = slices.Concat(needs[:at], with, needs[at+1:])
		}
	}
	return r
}

// Shops are where materials come from, in the order of a shopping list.
var Shops = []string{"Paper", "To draw and paint with", "Tools", "Printed here"}

var shopWords = []struct {
	shop  int
	words *regexp.Regexp
}{
	{3, regexp.MustCompile(`(?i)print|gridded|thumbnail|values strip|clean picture|pictures? of|dot sheet|card with a window|L of paper`)},
	{0, regexp.MustCompile(`(?i)paper|canvas|sheet|card`)},
	{1, regexp.MustCompile(`(?i)pencil|charcoal|pen\b|marker|tip|paint|gouache|watercolou?r|pastel|ink|chalk|crayon|varnish|fixative`)},
}

// Shop returns where a material comes from: one of Shops, by its name.
func (m Material) Shop() string {
	for _, s := range shopWords {
		if s.words.MatchString(m.Name) {
			return Shops[s.shop]
		}
	}
	return Shops[2]
}

// BurnDown returns how many boxes are left at the beginning and after each
// lesson that has begun, given when boxes were ticked and how many there are.
func BurnDown(ticks []float64, lessons []Span, all int, now float64) (left []int) {
	left = append(left, all)
	for i, l := range lessons {
		if l.From > now {
			break
		}
		until := math.Inf(1)
		if i+1 < len(lessons) {
			until = lessons[i+1].From // homework counts for the lesson before it
		}
		done := 0
		for _, t := range ticks {
			if t < until {
				done++
			}
		}
		left = append(left, all-done)
	}
	return left
}
