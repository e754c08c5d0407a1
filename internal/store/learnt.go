package store

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/training"
)

// Learnt is what the students of a project learnt, by student.
type Learnt struct {
	Reached map[uint64]map[string]bool      // objectives
	Helped  map[uint64]map[reading.Help]int // in how many boxes, by the furthest step
	Trained []Training                      // exercises of the eye, the latest first
	Own     map[uint64]map[string]string    // what they say themselves, by its name
}

// Learnt returns, in one statement, what students learnt in a project that the caller has
// fetched.
func (s *Store) Learnt(ctx context.Context, project uint64) (Learnt, error) {
	var rows []struct {
		StudentID uint64
		Objective string
		Help      reading.Help
		Boxes     int
		Kind      training.Kind
		DoneAt    *time.Time
		Result    string
		What      string
	}
	out := Learnt{Reached: map[uint64]map[string]bool{}, Helped: map[uint64]map[reading.Help]int{}, Own: map[uint64]map[string]string{}}
	err := s.with(ctx).Raw(`SELECT student_id, objective, '' AS help, 0 AS boxes, '' AS kind, NULL AS done_at, '' AS result, '' AS what FROM reached WHERE project_id = ?
		UNION ALL SELECT student_id, '', help, COUNT(*), '', NULL, '', '' FROM helps WHERE project_id = ? GROUP BY student_id, help
		UNION ALL SELECT student_id, '', '', 0, kind, done_at, result, '' FROM trainings WHERE project_id = ?
		UNION ALL SELECT student_id, '', '', 0, '', NULL, value, what FROM own_marks WHERE project_id = ? AND (what IN ('differs', 'glad') OR what LIKE 'goal:%')
		ORDER BY done_at DESC`, project, project, project, project).Scan(&rows).Error
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		switch {
		case r.Objective != "":
			put(out.Reached, r.StudentID, r.Objective, true)
		case r.What != "":
			put(out.Own, r.StudentID, r.What, r.Result)
		case r.Help != "":
			put(out.Helped, r.StudentID, r.Help, r.Boxes)
		case r.DoneAt != nil && len(out.Trained) < mostTrainings:
			t := Training{ProjectID: project, StudentID: r.StudentID, Kind: r.Kind, DoneAt: *r.DoneAt}
			if err := json.Unmarshal([]byte(r.Result), &t.Result); err != nil {
				return out, fmt.Errorf("an exercise that was kept is damaged: %w", err)
			}
			out.Trained = append(out.Trained, t)
		}
	}
	return out, nil
}

// put puts a value into a map of maps.
func put[K comparable, V any](into map[uint64]map[K]V, first uint64, key K, value V) {
	if into[first] == nil {
		into[first] = map[K]V{}
	}
	into[first][key] = value
}
