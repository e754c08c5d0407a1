package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
)

// projects asks for projects with picture, class, lessons and plan, in one statement.
func (s *Store) projects(ctx context.Context) *gorm.DB {
	return s.with(ctx).Joins("Picture").Joins("Class").Joins("Class.Calendar").Joins("Plan")
}

// Projects returns the teacher's projects that are in use, with picture, class and plan, the newest first.
func (s *Store) Projects(ctx context.Context, teacher uint64) (projects []Project, err error) {
	err = s.projects(ctx).Where("projects.teacher_id = ? AND "+inUse, teacher).
		Order("projects.updated_at DESC, projects.id DESC").Find(&projects).Error
	return projects, err
}

// Project returns one of the teacher's projects with its picture, plan, class
// and students.
func (s *Store) Project(ctx context.Context, teacher, id uint64) (Project, error) {
	return s.ProjectIn(ctx, teacher, id, 0)
}

// ProjectIn is Project as one of the classes that draw it sees it, 0 for the
// first; ErrNotFound for a class that does not draw it.
func (s *Store) ProjectIn(ctx context.Context, teacher, id, class uint64) (Project, error) {
	return s.in(ctx, s.projects(ctx).Where("projects.teacher_id = ? AND "+there, teacher), id, class)
}

// ProjectOf is ProjectIn as a student's class sees it, or the first where theirs
// draws it no more.
func (s *Store) ProjectOf(ctx context.Context, teacher, id uint64, of Student) (Project, error) {
	p, err := s.ProjectIn(ctx, teacher, id, of.ClassID)
	if errors.Is(err, ErrNotFound) {
		return s.Project(ctx, teacher, id)
	}
	return p, err
}

// AnyProject is ProjectIn for work that a teacher has queued.
func (s *Store) AnyProject(ctx context.Context, id, class uint64) (Project, error) {
	return s.in(ctx, s.projects(ctx), id, class)
}

func (s *Store) in(ctx context.Context, q *gorm.DB, id, class uint64) (p Project, err error) {
	if err := q.First(&p, id).Error; err != nil {
		return p, known(err)
	}
	if class != 0 && (p.ClassID == nil || *p.ClassID != class) {
		var c Class
		err := s.with(ctx).Joins("Calendar").Where("EXISTS (SELECT 1 FROM project_classes WHERE project_id = ? AND class_id = classes.id)", id).First(&c, class).Error
		if err != nil {
			return p, known(err)
		}
		p.ClassID, p.Class, p.Chosen = &class, &c, class
		p.Class.noCalendar()
	}
	if p.Class != nil {
		err = present(s.with(ctx).Where("class_id = ?", p.Class.ID)).Find(&p.Class.Students).Error
	}
	return p, err
}

// AddProject makes a project without a plan. Its class, if any, must be the teacher's.
func (s *Store) AddProject(ctx context.Context, p *Project) error {
	if p.ClassID != nil {
		if _, err := s.Class(ctx, p.TeacherID, *p.ClassID); err != nil {
			return err
		}
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		p.ID = 0
		if err := tx.Omit("Class", "Picture", "Plan").Create(p).Error; err != nil {
			return err
		}
		if p.ClassID != nil {
			if err := tx.Create(&ProjectClass{p.ID, *p.ClassID}).Error; err != nil {
				return err
			}
		}
		if p.PictureID == nil {
			return nil
		}
		return tx.Create(&ProjectPicture{p.ID, *p.PictureID}).Error
	})
}

// SetPicture gives one of the teacher's projects one of the teacher's pictures
// to draw from, and puts it on offer there.
func (s *Store) SetPicture(ctx context.Context, teacher, project, picture uint64) error {
	if err := s.OfferPicture(ctx, teacher, project, picture); err != nil {
		return err
	}
	return s.update(ctx, teacher, project, map[string]any{
		"picture_id": s.with(ctx).Model(&Picture{}).Select("id").Where("id = ? AND teacher_id = ?", picture, teacher),
	})
}

// SetClass lets a class of the same teacher draw a project, beside those that do.
func (s *Store) SetClass(ctx context.Context, teacher, project, class uint64) error {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return err
	}
	if err := s.owns(ctx, teacher, project); err != nil {
		return err
	}
	if err := s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&ProjectClass{project, class}).Error; err != nil {
		return err
	}
	return s.update(ctx, teacher, project, map[string]any{"class_id": gorm.Expr("COALESCE(class_id, ?)", class)})
}

// DropClass lets a class draw a project no more; what its students have done
// stays, and is there again where the class comes back.
func (s *Store) DropClass(ctx context.Context, teacher, project, class uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.owns(ctx, teacher, project); err != nil {
			return err
		}
		if err := found(s.with(ctx).Delete(&ProjectClass{project, class})); err != nil {
			return err
		}
		first := s.with(ctx).Model(&ProjectClass{}).Select("MIN(class_id)").Where("project_id = ?", project)
		return s.with(ctx).Model(&Project{}).Where("id = ? AND class_id = ?", project, class).UpdateColumn("class_id", first).Error
	})
}

// SetLooseness changes how exact a project is.
func (s *Store) SetLooseness(ctx context.Context, teacher, project uint64, l accuracy.Looseness) error {
	return s.update(ctx, teacher, project, map[string]any{"looseness": l})
}

// SetCompare changes what else a project's drawings are compared with.
func (s *Store) SetCompare(ctx context.Context, teacher, project uint64, c accuracy.Compare) error {
	return s.update(ctx, teacher, project, map[string]any{"compare_with": c})
}

func (s *Store) update(ctx context.Context, teacher, project uint64, values map[string]any) error {
	return found(s.with(ctx).Model(&Project{}).Where("id = ? AND teacher_id = ?", project, teacher).Updates(values))
}

// CurrentPlan returns the present plan of a project that the caller has fetched;
// ErrNotFound where it has none.
func (s *Store) CurrentPlan(ctx context.Context, p Project) (Plan, error) {
	if p.Plan != nil && p.Plan.Version == p.PlanVersion {
		return *p.Plan, nil
	}
	if p.PlanVersion == 0 {
		return Plan{}, ErrNotFound
	}
	var plan Plan
	err := s.with(ctx).Where("project_id = ? AND version = ?", p.ID, p.PlanVersion).First(&plan).Error
	return plan, known(err)
}

// SavePlan keeps a new version of a project's plan and gives the project its
// name. seen is the version that the teacher was looking at: ErrConflict if
// there is a newer one. carry returns what of a student's ticks the new grid
// keeps, nil where all stay as they are; the old ones are kept as history, and
// those of back, of an earlier grid such as the new one, count again.
func (s *Store) SavePlan(ctx context.Context, teacher, project uint64, seen int, name, json string, carry Carry, back []OldTick) (version int, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		res := tx.Model(&Project{}).Where("id = ? AND teacher_id = ? AND plan_version = ?", project, teacher, seen).
			Updates(map[string]any{"plan_version": seen + 1, "name": name})
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			var p Project
			if err := tx.Select("id", "plan_version").Where("teacher_id = ?", teacher).First(&p, project).Error; err != nil {
				return err
			}
			return fmt.Errorf("%w: version %d is the present one, not %d", ErrConflict, p.PlanVersion, seen)
		}
		if err := tx.Create(&Plan{ProjectID: project, Version: seen + 1, JSON: json, CreatedAt: time.Now().UTC()}).Error; err != nil {
			return err
		}
		if err := changed(tx, project, everybody); err != nil || carry == nil {
			return err
		}
		if err := carryTicks(tx, project, seen, carry, tx.Where("project_id = ?", project)); err != nil {
			return err
		}
		return bringBack(tx, back)
	})
	return seen + 1, err
}

// SetRoad gives one of the teacher's projects its stages.
func (s *Store) SetRoad(ctx context.Context, teacher, project uint64, road lesson.Road) error {
	if err := s.owns(ctx, teacher, project); err != nil {
		return err
	}
	return s.with(ctx).Model(&Project{ID: project}).Select("Road").Updates(Project{Road: &road}).Error
}
