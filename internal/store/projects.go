package store

import (
	"context"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/letters"
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

// SetFree changes which boxes of a project everyone draws as they like.
func (s *Store) SetFree(ctx context.Context, teacher, project uint64, boxes []string) error {
	return s.update(ctx, teacher, project, map[string]any{"free_boxes": strings.Join(boxes, " ")})
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

// Project is one picture being copied by one class.
type Project struct {
	ID          uint64
	TeacherID   uint64
	ClassID     *uint64
	Class       *Class
	PictureID   *uint64
	Picture     *Picture `gorm:"foreignKey:PictureID"` // said, because a picture may name a project too
	Name        string
	Looseness   accuracy.Looseness
	Compare     accuracy.Compare `gorm:"column:compare_with"` // what else its drawings are compared with
	FreeBoxes   string           // of which its checks say nothing, with spaces between
	PlanVersion int              // 0 where there is no plan yet
	Plan        *Plan            `gorm:"foreignKey:ID,PlanVersion;references:ProjectID,Version"` // of that version
	LinksUntil  *time.Time       // the last day of its students' links, nil for none
	PutAwayAt   *time.Time       // nil while it is in use
	DeletedAt   *time.Time       // nil unless it can be brought back still
	PrintedAt   *time.Time       // when pages of it were made first, nil if none were
	Road        *lesson.Road     `gorm:"serializer:json"` // nil for the usual one
	Help        reading.Help     // the step from which students are helped to see what is in a box
	Finest      reading.Finest   // of the fractions that are said of it; empty for the usual
	HandIn      lesson.HandIn    // when its students may hand photos in by themselves
	HandInBare  bool             // they see the boxes without words
	Pair        bool             // its views hang together, edge to edge
	ReadBy      reading.Source   // the lines of its picture by which boxes are read; empty for the usual
	GuessOff    bool             // students are shown where lines cross before they have marked it themselves
	CreatedAt   time.Time
	UpdatedAt   time.Time // when its plan changed, or a day on which it was at work

	Chosen uint64 `gorm:"-"` // the class that its address names, where it has several; 0 for the first
}

// Key names the project in addresses: by its number, and that of the class that
// was chosen of several.
func (p Project) Key() string {
	if p.Chosen == 0 {
		return strconv.FormatUint(p.ID, 10)
	}
	return fmt.Sprintf("%d-%d", p.ID, p.Chosen)
}

// AfterFind drops what a join made of nothing: a picture, a class, or a class's
// lessons that are not there.
func (p *Project) AfterFind(*gorm.DB) error {
	if p.PictureID == nil {
		p.Picture = nil
	}
	switch {
	case p.ClassID == nil:
		p.Class = nil
	case p.Class != nil:
		p.Class.noCalendar()
	}
	return nil
}

// noCalendar drops what a join made of no lessons.
func (c *Class) noCalendar() {
	if c.Calendar != nil && c.Calendar.ClassID == 0 {
		c.Calendar = nil
	}
}

// EffectiveRoad returns the project's road, the usual one where none was set.
func (p Project) EffectiveRoad() lesson.Road {
	if p.Road != nil {
		return p.Road.Named()
	}
	return lesson.NewRoad()
}

// BoxWeights is how heavy the boxes of a plan are by the detail of its picture, as
// they were reckoned last.
type BoxWeights struct {
	ProjectID   uint64 `gorm:"primaryKey"`
	PlanVersion int
	PictureID   uint64
	Weights     []float64 `gorm:"serializer:json"`
}

// ProjectClass is a class that draws a project; one may have several.
type ProjectClass struct {
	ProjectID uint64 `gorm:"primaryKey"`
	ClassID   uint64 `gorm:"primaryKey"`
}

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

// FirstSteps says what of a school's beginning a teacher has done.
type FirstSteps struct{ Class, Picture, Project, Print bool }

// All reports whether nothing is left to begin.
func (f FirstSteps) All() bool { return f.Class && f.Picture && f.Project && f.Print }

// FirstSteps returns how far a teacher's beginning is. Of projects put away counts
// what was done, as of those in use.
func (s *Store) FirstSteps(ctx context.Context, teacher uint64) (f FirstSteps, err error) {
	err = s.with(ctx).Raw(`SELECT EXISTS (SELECT 1 FROM classes JOIN students ON students.class_id = classes.id WHERE classes.teacher_id = @me) AS class,
		EXISTS (SELECT 1 FROM pictures WHERE teacher_id = @me) AS picture,
		EXISTS (SELECT 1 FROM projects WHERE teacher_id = @me AND plan_version > 0) AS project,
		EXISTS (SELECT 1 FROM projects WHERE teacher_id = @me AND printed_at IS NOT NULL) AS print`, map[string]any{"me": teacher}).Scan(&f).Error
	return f, err
}

// Printed keeps that pages of a project that the caller has fetched were made.
func (s *Store) Printed(ctx context.Context, p Project) error {
	if p.PrintedAt != nil {
		return nil
	}
	return s.with(ctx).Model(&Project{}).Where("id = ? AND printed_at IS NULL", p.ID).UpdateColumn("printed_at", time.Now()).Error
}

// Touch keeps that a project that the caller has fetched is at work today.
func (s *Store) Touch(ctx context.Context, p Project) error {
	now := time.Now().UTC()
	if now.Sub(p.UpdatedAt) < touchStep {
		return nil
	}
	return s.with(ctx).Model(&Project{}).Where("id = ?", p.ID).UpdateColumn("updated_at", now).Error
}

// ProjectList returns what a teacher's projects in use are called, with their first
// classes, the newest first.
func (s *Store) ProjectList(ctx context.Context, teacher uint64) (list []Project, err error) {
	err = s.with(ctx).Joins("Class").Where("projects.teacher_id = ? AND "+inUse, teacher).Order("projects.updated_at DESC, projects.id DESC").Find(&list).Error
	return list, err
}
