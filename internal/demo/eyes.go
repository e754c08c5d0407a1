package demo

import (
	"time"

	"zestysketch/internal/core/training"
	"zestysketch/internal/store"
)

// weeksTrained is for how many weeks the class has trained its eyes.
const weeksTrained = 5

// train has everybody judge how far along a side lines cross it, once a week, and a third
// of the class parts of a line: too near the middle, and better from week to week.
func (l *loader) train(p store.Project, now time.Time) error {
	for i, s := range l.class.Students {
		skill := 0.05 + 0.03*l.rng.Float64()
		for week := range weeksTrained {
			done := now.Add(-time.Duration(weeksTrained-1-week) * 7 * 24 * time.Hour).Add(-beganAgo).Add(time.Duration(i) * time.Second)
			spread := skill * (1 - 0.11*float64(week))
			for _, k := range []training.Kind{training.Along, training.Halve}[:1+i%3/2] {
				if err := l.exercise(p, s, k, spread, done); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// exercise keeps what an eye of a spread made of one exercise.
func (l *loader) exercise(p store.Project, s store.Student, k training.Kind, spread float64, done time.Time) error {
	about, _ := training.Named(k)
	var trials []training.Trial
	for range about.Tasks {
		shown := 0.08 + 0.84*l.rng.Float64()
		trials = append(trials, training.Trial{Shown: shown, Given: shown - 0.08*(shown-0.5) + spread*l.rng.NormFloat64()})
	}
	r, err := training.Measure(about, trials)
	if err != nil {
		return err
	}
	return l.s.Train(l.ctx, l.teacher.ID, store.Training{ProjectID: p.ID, StudentID: s.ID, Kind: k, DoneAt: done, Result: r})
}
