package store

import (
	"context"
	"errors"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// RoadState is how far every student is on a project's road.
type RoadState struct {
	Done     map[uint64]map[lesson.StageID]bool
	Verdicts map[uint64][]Verdict // everything said at checkpoints, oldest first
}

// VerdictsOf returns a student's last verdicts by stage, as the road reads them.
func (r RoadState) VerdictsOf(student uint64) map[lesson.StageID]lesson.Verdict {
	out := map[lesson.StageID]lesson.Verdict{}
	for _, v := range r.Verdicts[student] {
		out[v.Stage] = v.Verdict
	}
	return out
}

// Last returns what was said last to a student at a stage's checkpoint.
func (r RoadState) Last(student uint64, stage lesson.StageID) (last Verdict) {
	for _, v := range r.Verdicts[student] {
		if v.Stage == stage {
			last = v
		}
	}
	return last
}

// RoadState returns how far students are in a project that the caller has
// fetched; student 0 is everybody.
func (s *Store) RoadState(ctx context.Context, project, student uint64) (RoadState, error) {
	state := RoadState{map[uint64]map[lesson.StageID]bool{}, map[uint64][]Verdict{}}
	of, args := "project_id = ?", []any{project}
	if student != 0 {
		of, args = of+" AND student_id = ?", append(args, student)
	}
	// In one statement: stages that are done come as verdicts without a number.
	var rows []Verdict
	err := s.with(ctx).Raw(`SELECT id, student_id, stage, verdict, by_whom, note, seen, created_at FROM verdicts WHERE `+of+`
		UNION ALL SELECT 0, student_id, stage, '', '', '', 0, done_at FROM stage_records WHERE `+of+` ORDER BY id`, append(args, args...)...).Scan(&rows).Error
	for _, r := range rows {
		if r.ID != 0 {
			r.ProjectID = project
			state.Verdicts[r.StudentID] = append(state.Verdicts[r.StudentID], r)
			continue
		}
		if state.Done[r.StudentID] == nil {
			state.Done[r.StudentID] = map[lesson.StageID]bool{}
		}
		state.Done[r.StudentID][r.Stage] = true
	}
	return state, err
}

// DoStage records that a student has, or has not, done a stage.
func (s *Store) DoStage(ctx context.Context, teacher, project, student uint64, stage lesson.StageID, done bool) error {
	_, err := s.DoStages(ctx, teacher, project, []uint64{student}, stage, done)
	return err
}

// AddVerdict keeps what was said at a checkpoint. v.Seen is the verdict that
// its giver saw: ErrConflict if somebody else decided meanwhile. The same
// verdict sent twice is kept once.
func (s *Store) AddVerdict(ctx context.Context, teacher uint64, v *Verdict) error {
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := belongs(tx, teacher, v.ProjectID, v.StudentID); err != nil {
			return err
		}
		var last Verdict
		err := tx.Where("project_id = ? AND student_id = ? AND stage = ?", v.ProjectID, v.StudentID, v.Stage).Order("id DESC").Limit(1).Find(&last).Error
		if err != nil {
			return err
		}
		if last.ID != v.Seen {
			if last.Seen == v.Seen && last.Verdict == v.Verdict && last.ByWhom == v.ByWhom && last.Note == v.Note {
				*v = last // sent twice
				return nil
			}
			return ErrConflict
		}
		v.ID = 0
		if err := tx.Create(v).Error; err != nil {
			return err
		}
		return changed(tx, v.ProjectID, v.StudentID)
	})
	if errors.Is(err, ErrTaken) {
		return ErrConflict // decided in the very same moment
	}
	return err
}

// OwnRoad is a road that a teacher keeps under a name, for projects to come.
type OwnRoad struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Road      lesson.Road `gorm:"serializer:json"`
}

// TableName names the table of OwnRoad.
func (OwnRoad) TableName() string { return "own_roads" }

// mostRoads are kept for a teacher.
const mostRoads = 60

// ErrManyRoads is the error of a teacher's list of roads that is full.
var ErrManyRoads = errors.New("sixty roads are kept: drop one first")

// OwnRoads returns the teacher's own roads, by name.
func (s *Store) OwnRoads(ctx context.Context, teacher uint64) (list []OwnRoad, err error) {
	err = s.with(ctx).Where("teacher_id = ?", teacher).Order("name").Limit(mostRoads).Find(&list).Error
	return list, err
}

// KeepRoad keeps a road under its name, in place of the teacher's own of that name.
func (s *Store) KeepRoad(ctx context.Context, road OwnRoad) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var there []OwnRoad
		if err := tx.Where("teacher_id = ?", road.TeacherID).Find(&there).Error; err != nil {
			return err
		}
		for _, o := range there {
			if o.Name == road.Name {
				road.ID = o.ID
				return tx.Save(&road).Error
			}
		}
		if len(there) >= mostRoads {
			return ErrManyRoads
		}
		return tx.Create(&road).Error
	})
}

// DropRoad forgets one of the teacher's own roads.
func (s *Store) DropRoad(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&OwnRoad{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// StageRecord says that a student has done a stage.
type StageRecord struct {
	ProjectID uint64         `gorm:"primaryKey"`
	StudentID uint64         `gorm:"primaryKey"`
	Stage     lesson.StageID `gorm:"primaryKey"`
	DoneAt    time.Time
}

// Verdict is what was said at a checkpoint, the last one counting. Seen is the
// id of the verdict that its giver saw before, 0 for none: two who decide at
// once do not both have the last word.
type Verdict struct {
	ID        uint64
	ProjectID uint64
	StudentID uint64
	Stage     lesson.StageID
	Verdict   lesson.Verdict
	ByWhom    string
	Note      string
	Seen      uint64
	CreatedAt time.Time
}

// DoStages records for many students of one of the teacher's projects that they have done a
// stage, or have not, in a few statements however many they are, and returns for whom that
// was news. ErrNotFound where one of them does not draw the project.
func (s *Store) DoStages(ctx context.Context, teacher, project uint64, students []uint64, stage lesson.StageID, done bool) (news []uint64, err error) {
	if len(students) == 0 {
		return nil, nil
	}
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		err := allBelong(tx, teacher, project, students)
		if err != nil {
			return err
		}
		var had []uint64
		if err := tx.Model(&StageRecord{}).Where("project_id = ? AND stage = ? AND student_id IN ?", project, stage, students).Pluck("student_id", &had).Error; err != nil {
			return err
		}
		known := map[uint64]bool{}
		for _, id := range had {
			known[id] = true
		}
		var records []StageRecord
		var changes []Change
		now := time.Now().UTC()
		for _, id := range students {
			if known[id] == done {
				continue
			}
			news = append(news, id)
			records = append(records, StageRecord{ProjectID: project, StudentID: id, Stage: stage, DoneAt: now})
			changes = append(changes, Change{ProjectID: project, StudentID: id})
		}
		if len(news) == 0 {
			return nil
		}
		if done {
			err = tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&records).Error
		} else {
			err = tx.Delete(&StageRecord{}, "project_id = ? AND stage = ? AND student_id IN ?", project, stage, news).Error
		}
		if err != nil {
			return err
		}
		return tx.Create(&changes).Error
	})
	return news, err
}
