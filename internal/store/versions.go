package store

import (
	"context"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Versions returns the plans that a project which the caller has fetched had,
// the latest first, 60 at most.
func (s *Store) Versions(ctx context.Context, project uint64) (list []Plan, err error) {
	err = s.with(ctx).Where("project_id = ?", project).Order("version DESC").Limit(60).Find(&list).Error
	return list, err
}

// PlanVersion returns one of the plans of a project that the caller has fetched.
func (s *Store) PlanVersion(ctx context.Context, project uint64, version int) (Plan, error) {
	var plan Plan
	err := s.with(ctx).Where("project_id = ? AND version = ?", project, version).First(&plan).Error
	return plan, known(err)
}

// TickedVersions returns the versions whose ticks are kept as history, the
// latest first.
func (s *Store) TickedVersions(ctx context.Context, project uint64) (versions []int, err error) {
	err = s.with(ctx).Model(&OldTick{}).Where("project_id = ?", project).Distinct().Order("plan_version DESC").Pluck("plan_version", &versions).Error
	return versions, err
}

// OldTicks returns the ticks that were kept with one of a project's plans.
func (s *Store) OldTicks(ctx context.Context, project uint64, version int) (ticks []OldTick, err error) {
	err = s.with(ctx).Where("project_id = ? AND plan_version = ?", project, version).Find(&ticks).Error
	return ticks, err
}

// TickOld keeps boxes that a student did on an earlier plan with that plan, and
// returns all that they did on it, with when.
func (s *Store) TickOld(ctx context.Context, p Project, version int, student uint64, labels []string, at time.Time) (map[string]time.Time, error) {
	all := map[string]time.Time{}
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, p.TeacherID, p.ID, student); err != nil {
			return err
		}
		for _, l := range labels {
			if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&OldTick{p.ID, version, student, l, at.UTC()}).Error; err != nil {
				return err
			}
		}
		var ticks []OldTick
		if err := tx.Where("project_id = ? AND plan_version = ? AND student_id = ?", p.ID, version, student).Find(&ticks).Error; err != nil {
			return err
		}
		for _, t := range ticks {
			all[t.Label] = t.TickedAt
		}
		return nil
	})
	return all, err
}

// bringBack ticks again what was ticked on an earlier plan of a project.
func bringBack(tx *gorm.DB, back []OldTick) error {
	ticks := make([]Tick, len(back))
	for i, t := range back {
		ticks[i] = Tick{t.ProjectID, t.StudentID, t.Label, t.TickedAt}
	}
	if len(ticks) == 0 {
		return nil
	}
	return tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(ticks, 500).Error
}

// TickCounts returns how many boxes were ticked on each plan of a project when
// its grid was left, by version.
func (s *Store) TickCounts(ctx context.Context, project uint64) (map[int]int, error) {
	var rows []struct{ PlanVersion, N int }
	err := s.with(ctx).Model(&OldTick{}).Select("plan_version, COUNT(*) AS n").Where("project_id = ?", project).Group("plan_version").Find(&rows).Error
	by := map[int]int{}
	for _, r := range rows {
		by[r.PlanVersion] = r.N
	}
	return by, err
}

// Weights returns how heavy the boxes of a fetched project's present plan are over
// its present picture; ErrNotFound where that was not reckoned.
func (s *Store) Weights(ctx context.Context, p Project) ([]float64, error) {
	var w BoxWeights
	err := s.with(ctx).Where("project_id = ? AND plan_version = ? AND picture_id = ?", p.ID, p.PlanVersion, p.PictureID).First(&w).Error
	return w.Weights, known(err)
}

// KeepWeights keeps them in place of those of before.
func (s *Store) KeepWeights(ctx context.Context, p Project, weights []float64) error {
	w := BoxWeights{p.ID, p.PlanVersion, *p.PictureID, weights}
	return s.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&w).Error
}

// Plan is one version of a project's plan, zesty-plan/1.
type Plan struct {
	ProjectID uint64 `gorm:"primaryKey"`
	Version   int    `gorm:"primaryKey"`
	JSON      string `gorm:"column:json"`
	CreatedAt time.Time
}
