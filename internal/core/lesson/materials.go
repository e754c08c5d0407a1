package lesson

import (
	"math"
	"slices"
)

// Material is something a stage needs.
type Material struct {
	Name  string
	Each  float64 // per student; a quarter is one for four
	Spare float64 // share on top, for what breaks or is spoilt
	Used  bool    // used up: it cannot be lent to the next class
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
		for _, m := range info(s.Kind).materials {
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

// Objective is something a drawing is to reach, on one of two levels (common practice).
type Objective struct{ Code, Level, Words string }

// Objectives lists them, the basic ones first.
var Objectives = []Objective{
	{"proportions", "basic", "Proportions are right"},
	{"values", "basic", "Light, middle and dark are present"},
	{"form", "stretch", "Form by gradual tone"},
	{"detail", "stretch", "Fine detail"},
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
