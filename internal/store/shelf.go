package store

import (
	"context"
	"time"

	"zestysketch/internal/letters"
)

// KeptDeleted is how long a deleted project can be brought back.
const KeptDeleted = 30 * 24 * time.Hour

// there keeps projects that are not deleted, and inUse those that are not put away either.
const (
	there = "projects.deleted_at IS NULL"
	inUse = there + " AND projects.put_away_at IS NULL"
)

// Shelf returns the teacher's projects that were put away or deleted, the latest first.
func (s *Store) Shelf(ctx context.Context, teacher uint64) (list []Project, err error) {
	err = s.projects(ctx).Where("projects.teacher_id = ? AND NOT ("+inUse+")", teacher).
		Order("COALESCE(projects.deleted_at, projects.put_away_at) DESC, projects.id DESC").Find(&list).Error
	return list, err
}

// shelve sets when one of the teacher's projects was put away or deleted, nil for not.
func (s *Store) shelve(ctx context.Context, teacher, id uint64, values map[string]any) error {
	return found(s.with(ctx).Model(&Project{}).Where("id = ? AND teacher_id = ?", id, teacher).UpdateColumns(values))
}

// PutAway takes one of the teacher's projects off their first page; its work stays
// as it is.
func (s *Store) PutAway(ctx context.Context, teacher, id uint64) error {
	return s.shelve(ctx, teacher, id, map[string]any{"put_away_at": time.Now()})
}

// DeleteProject deletes one of the teacher's projects: it can be brought back for
// thirty days, but for its students' links.
func (s *Store) DeleteProject(ctx context.Context, teacher, id uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.shelve(ctx, teacher, id, map[string]any{"deleted_at": time.Now()}); err != nil {
			return err
		}
		return endLinks(s.with(ctx).Where("project_id = ?", id))
	})
}

// BringBack puts a project back that was put away or deleted.
func (s *Store) BringBack(ctx context.Context, teacher, id uint64) error {
	return s.shelve(ctx, teacher, id, map[string]any{"put_away_at": nil, "deleted_at": nil})
}

// PurgeProjects deletes for good what was deleted before a moment, with photos
// that only it showed.
func (s *Store) PurgeProjects(ctx context.Context, before time.Time) error {
	var gone []Project
	if err := s.with(ctx).Where("deleted_at < ?", before).Find(&gone).Error; err != nil {
		return err
	}
	for _, p := range gone {
		err := s.Transaction(ctx, func(s *Store) error {
			tx := s.with(ctx)
			var photos []uint64
			err := tx.Raw(`SELECT picture_id FROM check_ins WHERE project_id = ? UNION SELECT picture_id FROM strays WHERE project_id = ?
				UNION SELECT picture_id FROM notes WHERE project_id = ? AND picture_id IS NOT NULL`, p.ID, p.ID, p.ID).Scan(&photos).Error
			if err != nil {
				return err
			}
			if err := tx.Delete(&Project{}, p.ID).Error; err != nil {
				return err
			}
			for _, id := range photos {
				if err := dropPhoto(tx, id); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// CopyProject makes a project like one of the teacher's, with its pictures,
// frames, landmarks, plan and road, for its class or for none; nobody's work is in
// it. Pictures are not doubled. It returns the new one's number.
func (s *Store) CopyProject(ctx context.Context, teacher, id uint64, withClass bool) (uint64, error) {
	var copied uint64
	err := s.Transaction(ctx, func(s *Store) error {
		p, err := s.Project(ctx, teacher, id)
		if err != nil {
			return err
		}
		anew := p
		anew.ID, anew.CreatedAt, anew.UpdatedAt, anew.LinksUntil = 0, time.Time{}, time.Time{}, nil
		anew.Name = letters.Cut(p.Name, longestProject-len(ofCopies)) + ofCopies
		anew.Class, anew.Picture, anew.Plan, anew.PlanVersion = nil, nil, nil, 0
		if !withClass {
			anew.ClassID = nil
		}
		if err := s.AddProject(ctx, &anew); err != nil {
			return err
		}
		copied = anew.ID
		for _, q := range []string{
			"INSERT IGNORE INTO project_pictures (project_id, picture_id) SELECT ?, picture_id FROM project_pictures WHERE project_id = ?",
			"INSERT INTO frames (project_id, picture_id, name, frame) SELECT ?, picture_id, name, frame FROM frames WHERE project_id = ? ORDER BY id",
			"INSERT INTO views (project_id, picture_id, name, top_x, top_y, bottom_x, bottom_y, pressed) SELECT ?, picture_id, name, top_x, top_y, bottom_x, bottom_y, pressed FROM views WHERE project_id = ? ORDER BY id",
			"INSERT INTO landmarks (project_id, picture_id, name, weight, class, x_px, y_px) SELECT ?, picture_id, name, weight, class, x_px, y_px FROM landmarks WHERE project_id = ? ORDER BY id",
		} {
			if err := s.with(ctx).Exec(q, copied, id).Error; err != nil {
				return err
			}
		}
		if p.PlanVersion == 0 {
			return nil
		}
		if err := s.with(ctx).Exec("INSERT INTO plans (project_id, version, json, created_at) SELECT ?, 1, json, ? FROM plans WHERE project_id = ? AND version = ?",
			copied, time.Now(), id, p.PlanVersion).Error; err != nil {
			return err
		}
		return s.with(ctx).Model(&Project{}).Where("id = ?", copied).UpdateColumn("plan_version", 1).Error
	})
	return copied, err
}

// ofCopies ends the name of a copy, and longestProject bounds a name, in letters.
const ofCopies, longestProject = " (copy)", 80

// RenameClass gives one of the teacher's classes another name.
func (s *Store) RenameClass(ctx context.Context, teacher, id uint64, name string) error {
	return s.changeClass(ctx, teacher, id, map[string]any{"name": name})
}

// PutClassAway takes a class off the teacher's lists, or brings it back.
func (s *Store) PutClassAway(ctx context.Context, teacher, id uint64, away bool) error {
	values := map[string]any{"put_away_at": nil}
	if away {
		values["put_away_at"] = time.Now()
	}
	return s.changeClass(ctx, teacher, id, values)
}

func (s *Store) changeClass(ctx context.Context, teacher, id uint64, values map[string]any) error {
	return found(s.with(ctx).Model(&Class{}).Where("id = ? AND teacher_id = ?", id, teacher).UpdateColumns(values))
}

// ClassesAway returns the teacher's classes that were put away.
func (s *Store) ClassesAway(ctx context.Context, teacher uint64) (list []Class, err error) {
	err = s.with(ctx).Where("teacher_id = ? AND put_away_at IS NOT NULL", teacher).Order("put_away_at DESC").Find(&list).Error
	return list, err
}
