package store

import (
	"context"
	"maps"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/reading"
)

// everybody stands for the student where the plan of all has changed.
const everybody = 0

// changed tells walls that look.
func changed(tx *gorm.DB, project, student uint64) error {
	return tx.Create(&Change{ProjectID: project, StudentID: student}).Error
}

// Changed tells walls that look that something of a student is another.
func (s *Store) Changed(ctx context.Context, project, student uint64) error {
	return changed(s.with(ctx), project, student)
}

// Changes returns the changes of a project since a moment, oldest first, as
// far as they are to be seen now; one that began earlier may still appear.
func (s *Store) Changes(ctx context.Context, project uint64, since time.Time) (list []Change, err error) {
	err = s.with(ctx).Where("project_id = ? AND created_at >= ?", project, since).Order("id").Limit(2000).Find(&list).Error
	return list, err
}

// SweepChanges forgets changes from before a moment.
func (s *Store) SweepChanges(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("created_at < ?", before).Delete(&Change{}).Error
}

// Belongs returns ErrNotFound unless the student is in a class of the
// teacher's project.
func (s *Store) Belongs(ctx context.Context, teacher, project, student uint64) error {
	return belongs(s.with(ctx), teacher, project, student)
}

// Tick records that a student has, or has not, done a box of one of the
// teacher's projects, and when. Saying it twice changes nothing.
func (s *Store) Tick(ctx context.Context, teacher, project, student uint64, label string, done bool, at time.Time) error {
	return s.TickBoxes(ctx, teacher, project, student, []string{label}, done, at)
}

// TickBoxes is Tick for several boxes of a student, all or none.
func (s *Store) TickBoxes(ctx context.Context, teacher, project, student uint64, labels []string, done bool, at time.Time) error {
	if len(labels) == 0 {
		return nil
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		ticks := make([]Tick, len(labels))
		for i, l := range labels {
			ticks[i] = Tick{project, student, l, at.UTC()}
		}
		var res *gorm.DB
		if done {
			res = tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(ticks, 500)
		} else {
			res = tx.Where("project_id = ? AND student_id = ? AND label IN ?", project, student, labels).Delete(&Tick{})
		}
		if res.Error != nil || res.RowsAffected == 0 {
			return res.Error
		}
		return changed(tx, project, student)
	})
}

// TickMany records boxes of many students of one of the teacher's projects, done or not, all
// or none, in a few statements however many they are.
func (s *Store) TickMany(ctx context.Context, teacher, project uint64, ticks []Tick, done bool) error {
	if len(ticks) == 0 {
		return nil
	}
	by := map[uint64][]string{}
	for _, t := range ticks {
		by[t.StudentID] = append(by[t.StudentID], t.Label)
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := allBelong(tx, teacher, project, slices.Collect(maps.Keys(by))); err != nil {
			return err
		}
		var err error
		if done {
			err = tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(ticks, 500).Error
		} else {
			pairs := make([][]any, len(ticks))
			for i, t := range ticks {
				pairs[i] = []any{t.StudentID, t.Label}
			}
			err = tx.Where("project_id = ? AND (student_id, label) IN ?", project, pairs).Delete(&Tick{}).Error
		}
		if err != nil {
			return err
		}
		var changes []Change
		for id := range by {
			changes = append(changes, Change{ProjectID: project, StudentID: id})
		}
		return tx.Create(&changes).Error
	})
}

// belongs returns ErrNotFound unless the student is in a class of the teacher's
// project. Within a change nobody forgets them meanwhile: what it writes of them is
// there before they are forgotten, or not written.
func belongs(tx *gorm.DB, teacher, project, student uint64) error {
	return allBelong(tx, teacher, project, []uint64{student})
}

// allBelong is belongs for many students, each named once.
func allBelong(tx *gorm.DB, teacher, project uint64, students []uint64) error {
	var there []uint64
	err := tx.Raw(`SELECT id FROM students WHERE id IN ? AND EXISTS (SELECT 1 FROM project_classes JOIN projects ON projects.id = project_classes.project_id
		WHERE project_classes.class_id = students.class_id AND projects.id = ? AND projects.teacher_id = ?) LOCK IN SHARE MODE`, students, project, teacher).Scan(&there).Error
	if err == nil && len(there) < len(students) {
		return ErrNotFound
	}
	return err
}

// Ticks returns the labels done in a project that the caller has fetched, by student.
func (s *Store) Ticks(ctx context.Context, project uint64) (map[uint64]map[string]bool, error) {
	var ticks []Tick
	if err := s.with(ctx).Where("project_id = ?", project).Find(&ticks).Error; err != nil {
		return nil, err
	}
	return byStudent(ticks), nil
}

// TickTimes returns when boxes were ticked in a project that the caller has
// fetched, by student.
func (s *Store) TickTimes(ctx context.Context, project uint64) (map[uint64][]Tick, error) {
	// A class has thousands: they are read column by column.
	rows, err := s.with(ctx).Model(&Tick{}).Select("student_id, label, ticked_at").Where("project_id = ?", project).Order("ticked_at").Rows()
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	by := map[uint64][]Tick{}
	for rows.Next() {
		t := Tick{ProjectID: project}
		if err := rows.Scan(&t.StudentID, &t.Label, &t.TickedAt); err != nil {
			return nil, err
		}
		by[t.StudentID] = append(by[t.StudentID], t)
	}
	return by, rows.Err()
}

// StudentTicks is Ticks for one student.
func (s *Store) StudentTicks(ctx context.Context, project, student uint64) (map[string]bool, error) {
	var ticks []Tick
	err := s.with(ctx).Where("project_id = ? AND student_id = ?", project, student).Find(&ticks).Error
	return byStudent(ticks)[student], err
}

func byStudent(ticks []Tick) map[uint64]map[string]bool {
	done := map[uint64]map[string]bool{}
	for _, t := range ticks {
		if done[t.StudentID] == nil {
			done[t.StudentID] = map[string]bool{}
		}
		done[t.StudentID][t.Label] = true
	}
	return done
}

// Carry returns which boxes of a new grid are done, and when, given those of
// the old one, for one student.
type Carry func(student uint64, done map[string]time.Time) map[string]time.Time

// CarryTicks does so for one student of a project that the caller has fetched.
func (s *Store) CarryTicks(ctx context.Context, p Project, student uint64, carry Carry) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		return carryTicks(tx, p.ID, p.PlanVersion, carry, tx.Where("project_id = ? AND student_id = ?", p.ID, student))
	})
}

// carryTicks keeps a project's ticks, of those it is about, as history of a
// plan's version and writes those that the new grid keeps. A part of the boxes that
// somebody drew alone is of the grid that is left.
func carryTicks(tx *gorm.DB, project uint64, version int, carry Carry, about *gorm.DB) error {
	if err := tx.Model(&Assignment{}).Where(about).Where("part <> ''").Update("part", "").Error; err != nil {
		return err
	}
	var ticks []Tick
	if err := tx.Where(about).Find(&ticks).Error; err != nil || len(ticks) == 0 {
		return err
	}
	done, old := map[uint64]map[string]time.Time{}, make([]OldTick, len(ticks))
	for i, t := range ticks {
		if done[t.StudentID] == nil {
			done[t.StudentID] = map[string]time.Time{}
		}
		done[t.StudentID][t.Label] = t.TickedAt
		old[i] = OldTick{project, version, t.StudentID, t.Label, t.TickedAt}
	}
	if err := tx.Clauses(clause.OnConflict{DoNothing: true}).CreateInBatches(old, 500).Error; err != nil {
		return err
	}
	if err := tx.Where(about).Delete(&Tick{}).Error; err != nil {
		return err
	}
	var kept []Tick
	for student, labels := range done {
		for label, at := range carry(student, labels) {
			kept = append(kept, Tick{project, student, label, at})
		}
	}
	if len(kept) == 0 {
		return nil
	}
	return tx.CreateInBatches(kept, 500).Error
}

// History returns how many boxes a student had done of grids that a project no
// longer has, by the plan's version.
func (s *Store) History(ctx context.Context, project, student uint64) (map[int]int, error) {
	var rows []struct{ PlanVersion, N int }
	err := s.with(ctx).Model(&OldTick{}).Select("plan_version, COUNT(*) AS n").Where("project_id = ? AND student_id = ?", project, student).Group("plan_version").Find(&rows).Error
	by := map[int]int{}
	for _, r := range rows {
		by[r.PlanVersion] = r.N
	}
	return by, err
}

// Helped is how far a student was helped to see what is in a box.
type Helped struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Label     string `gorm:"primaryKey"`
	Help      reading.Help
	HelpedAt  time.Time
}

// TableName is that of the migration.
func (Helped) TableName() string { return "helps" }

// HelpWish is how a project's students are helped to see what is in a box: from which step on, in which fractions,
// by which lines of the picture, and whether they mark the crossings themselves first.
type HelpWish struct {
	From   reading.Help
	Finest reading.Finest
	By     reading.Source
	Guess  bool
}

// SetHelp changes how a project's students are helped.
func (s *Store) SetHelp(ctx context.Context, teacher, project uint64, w HelpWish) error {
	return s.update(ctx, teacher, project, map[string]any{"help": w.From, "finest": w.Finest, "read_by": w.By, "guess_off": !w.Guess})
}

// Help records that a student of one of the teacher's projects was helped so far in a box.
// The furthest step stays.
func (s *Store) Help(ctx context.Context, teacher, project, student uint64, label string, help reading.Help) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, project, student); err != nil {
			return err
		}
		had := Helped{ProjectID: project, StudentID: student, Label: label}
		if err := tx.Where(&had).Limit(1).Find(&had).Error; err != nil || had.Help.Step() >= help.Step() {
			return err
		}
		had.Help, had.HelpedAt = help, time.Now().UTC()
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&had).Error
	})
}

// Tick records that a student has done a box.
type Tick struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Label     string `gorm:"primaryKey"`
	TickedAt  time.Time
}

// OldTick is a tick of a grid that a project no longer has.
type OldTick struct {
	ProjectID   uint64 `gorm:"primaryKey"`
	PlanVersion int    `gorm:"primaryKey"`
	StudentID   uint64 `gorm:"primaryKey"`
	Label       string `gorm:"primaryKey"`
	TickedAt    time.Time
}

// TableName names the table of OldTick.
func (OldTick) TableName() string { return "tick_history" }
