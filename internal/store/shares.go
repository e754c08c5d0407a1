package store

import (
	"context"
	"fmt"
	"time"
)

// Level is what somebody may do with a project or a class.
type Level int

// The levels, each with what the one before has: nothing; to look; to cover, which
// is the wall with its ticks, notes and check-ins; to own together with its owner;
// to do in an absent owner's place what a parent may ask for; to be its owner.
const (
	Nothing Level = iota
	ToLook
	ToCover
	ToOwn
	InPlace
	Owns
)

// Share lets a colleague at a project, or at a class and all that it draws.
type Share struct {
	ID        uint64
	ProjectID *uint64
	ClassID   *uint64
	TeacherID uint64 // with whom
	Teacher   Teacher
	Level     Level
	FromDay   *time.Time // the first and the last day, by the school's clock; nil without
	UntilDay  *time.Time
	Reason    string // why an administrator opened it for themselves; empty where its owner shared it
	CreatedAt time.Time
}

// LongestReason bounds why an administrator opens a class, in letters.
const LongestReason = 300

// OpenClass lets an administrator at a class of a colleague of their school who is away, until a day, for a reason
// that its owner is shown. The error is ErrNotFound for their own class and another school's.
func (s *Store) OpenClass(ctx context.Context, admin Teacher, class uint64, reason string, until time.Time) (c Class, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		c = Class{}
		if err := s.with(ctx).Joins("JOIN teachers ON teachers.id = classes.teacher_id").
			Where("classes.id = ? AND teachers.school_id = ? AND teachers.id <> ?", class, admin.SchoolID, admin.ID).First(&c).Error; err != nil {
			return known(err)
		}
		if err := s.with(ctx).Where("teacher_id = ? AND class_id = ?", admin.ID, class).Delete(&Share{}).Error; err != nil {
			return err
		}
		return s.with(ctx).Omit("Teacher").Create(&Share{ClassID: &class, TeacherID: admin.ID, Level: InPlace, UntilDay: &until, Reason: reason}).Error
	})
	return c, err
}

// OpenedClass is a class of a teacher's that an administrator opened in their place.
type OpenedClass struct {
	ClassID           uint64
	Class, By, Reason string
	UntilDay          time.Time
}

// Opened returns what of a teacher's is opened on a day.
func (s *Store) Opened(ctx context.Context, teacher uint64, day string) (list []OpenedClass, err error) {
	err = s.with(ctx).Raw(`SELECT classes.id AS class_id, classes.name AS class, teachers.name AS 'by', shares.reason, shares.until_day FROM shares
		JOIN classes ON classes.id = shares.class_id JOIN teachers ON teachers.id = shares.teacher_id
		WHERE classes.teacher_id = @me AND shares.level = @level AND `+inDays+` ORDER BY shares.id`, map[string]any{"me": teacher, "level": InPlace, "day": day}).Scan(&list).Error
	return list, err
}

// What an address can name somebody's thing by.
const (
	OfProject = "project"
	OfClass   = "class"
	OfStudent = "student"
	OfNote    = "note"
	OfCheckIn = "checkin"
	OfStray   = "stray"
	OfJob     = "job"
	OfPicture = "picture"
)

// shared is the sharing rows that count for teacher @me on @day, by what they
// share: projects, also those that a shared class draws.
const shared = `(SELECT project_id, level, until_day FROM shares WHERE teacher_id = @me AND project_id IS NOT NULL AND ` + inDays + `
	UNION ALL SELECT project_classes.project_id, level, until_day FROM shares JOIN project_classes ON project_classes.class_id = shares.class_id
		WHERE teacher_id = @me AND ` + inDays + `)`

const inDays = "(from_day IS NULL OR from_day <= @day) AND (until_day IS NULL OR until_day >= @day)"

// sharedClasses is shared for classes: those that were shared themselves, and
// those that draw a shared project are seen through it alone.
const sharedClasses = "(SELECT class_id, level FROM shares WHERE teacher_id = @me AND class_id IS NOT NULL AND " + inDays + ")"

// toProject says how the project of a thing is found, and toClass its class.
var (
	toProject = map[string]string{
		OfProject: "projects.id = @id",
		OfNote:    "projects.id = (SELECT project_id FROM notes WHERE id = @id)",
		OfCheckIn: "projects.id = (SELECT project_id FROM check_ins WHERE id = @id)",
		OfStray:   "projects.id = (SELECT project_id FROM strays WHERE id = @id)",
		OfJob:     "projects.id = (SELECT project_id FROM jobs WHERE id = @id)",
		OfPicture: `projects.id IN (SELECT project_id FROM project_pictures WHERE picture_id = @id UNION SELECT project_id FROM check_ins WHERE picture_id = @id
			UNION SELECT project_id FROM strays WHERE picture_id = @id UNION SELECT project_id FROM notes WHERE picture_id = @id
			UNION SELECT project_id FROM pictures WHERE id = @id AND project_id IS NOT NULL)`,
	}
	toClass = map[string]string{
		OfClass:   "classes.id = @id",
		OfStudent: "classes.id = (SELECT class_id FROM students WHERE id = @id)",
	}
)

// Grant is what a teacher may do with a thing that somebody else owns.
type Grant struct {
	Owner uint64
	Name  string // the owner's
	Level Level
}

// Access returns whose a thing is and what a teacher may do with it on a day,
// 2006-01-02: Nothing where it was not shared with them, or is not there.
func (s *Store) Access(ctx context.Context, teacher uint64, what string, id uint64, day string) (g Grant, err error) {
	query := ""
	if found, ok := toProject[what]; ok {
		query = "SELECT projects.teacher_id AS owner, MAX(shared.level) AS level FROM projects JOIN " + shared +
			" AS shared ON shared.project_id = projects.id WHERE projects.deleted_at IS NULL AND " + found + " GROUP BY projects.teacher_id ORDER BY level DESC LIMIT 1"
	} else if found, ok := toClass[what]; ok {
		query = "SELECT classes.teacher_id AS owner, shared.level AS level FROM classes JOIN " + sharedClasses + " AS shared ON shared.class_id = classes.id WHERE " + found
	} else {
		return g, nil
	}
	err = s.with(ctx).Raw("SELECT found.owner, found.level, teachers.name FROM ("+query+") AS found JOIN teachers ON teachers.id = found.owner",
		map[string]any{"me": teacher, "id": id, "day": day}).Scan(&g).Error
	return g, err
}

// SharesOf returns with whom a project of a teacher's is shared, and its classes.
func (s *Store) SharesOf(ctx context.Context, project uint64) (list []Share, err error) {
	err = s.with(ctx).Joins("Teacher").Where("shares.project_id = ? OR shares.class_id IN (SELECT class_id FROM project_classes WHERE project_id = ?)", project, project).
		Order("shares.id").Find(&list).Error
	return list, err
}

// ClassShares returns with whom a class is shared.
func (s *Store) ClassShares(ctx context.Context, class uint64) (list []Share, err error) {
	err = s.with(ctx).Joins("Teacher").Where("shares.class_id = ?", class).Order("shares.id").Find(&list).Error
	return list, err
}

// Share lets a colleague of an owner's at one of the owner's things; what was
// shared with them of it before is replaced. The error is ErrNotFound where the
// colleague is not of the owner's school, or is the owner.
func (s *Store) Share(ctx context.Context, owner uint64, share Share) error {
	if share.Level < ToLook || share.Level > ToOwn {
		return fmt.Errorf("no level %d", share.Level)
	}
	return s.Transaction(ctx, func(s *Store) error {
		giver, err := s.Teacher(ctx, owner)
		if err != nil {
			return err
		}
		mate, err := s.Colleague(ctx, giver.SchoolID, share.TeacherID)
		if err != nil {
			return err
		}
		if mate.ID == owner || mate.DisabledAt != nil {
			return ErrNotFound
		}
		before := s.with(ctx).Where("teacher_id = ?", share.TeacherID)
		if share.ClassID != nil {
			if _, err := s.Class(ctx, owner, *share.ClassID); err != nil {
				return err
			}
			before = before.Where("class_id = ?", *share.ClassID)
		} else {
			if err := s.owns(ctx, owner, *share.ProjectID); err != nil {
				return err
			}
			before = before.Where("project_id = ?", *share.ProjectID)
		}
		if err := before.Delete(&Share{}).Error; err != nil {
			return err
		}
		share.ID = 0
		return s.with(ctx).Omit("Teacher").Create(&share).Error
	})
}

// Unshare ends one sharing of an owner's project or class.
func (s *Store) Unshare(ctx context.Context, owner, id uint64) error {
	return found(s.with(ctx).Where(`id = ? AND (project_id IN (SELECT id FROM projects WHERE teacher_id = ?)
		OR class_id IN (SELECT id FROM classes WHERE teacher_id = ?))`, id, owner, owner).Delete(&Share{}))
}

// SharedWith returns the projects that colleagues share with a teacher on a day,
// with their owners, the newest first, and what may be done with each.
func (s *Store) SharedWith(ctx context.Context, teacher uint64, day string) (list []SharedProject, err error) {
	err = s.with(ctx).Raw(`SELECT projects.id, projects.name, projects.picture_id, teachers.name AS owner, MAX(shared.level) AS level, MAX(shared.until_day) AS until_day
		FROM projects JOIN `+shared+` AS shared ON shared.project_id = projects.id JOIN teachers ON teachers.id = projects.teacher_id
		WHERE `+inUse+` GROUP BY projects.id ORDER BY projects.updated_at DESC, projects.id DESC`, map[string]any{"me": teacher, "day": day}).Scan(&list).Error
	return list, err
}

// SharedClass is a colleague's class that a teacher is let at.
type SharedClass struct {
	Class
	Owner string
	Level Level
}

// ClassesSharedWith returns the classes that colleagues share with a teacher on a
// day, with their students.
func (s *Store) ClassesSharedWith(ctx context.Context, teacher uint64, day string) (list []SharedClass, err error) {
	var rows []struct {
		ID    uint64
		Owner string
		Level Level
	}
	err = s.with(ctx).Raw(`SELECT classes.id, teachers.name AS owner, shared.level FROM classes JOIN `+sharedClasses+` AS shared ON shared.class_id = classes.id
		JOIN teachers ON teachers.id = classes.teacher_id WHERE classes.put_away_at IS NULL ORDER BY classes.id`, map[string]any{"me": teacher, "day": day}).Scan(&rows).Error
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	ids := make([]uint64, len(rows))
	for i, r := range rows {
		ids[i] = r.ID
	}
	var classes []Class
	if err := s.with(ctx).Preload("Students", present).Order("id").Find(&classes, ids).Error; err != nil {
		return nil, err
	}
	for i, c := range classes {
		list = append(list, SharedClass{c, rows[i].Owner, rows[i].Level})
	}
	return list, nil
}

// SharedProject is a colleague's project as a teacher finds it on their first page.
type SharedProject struct {
	ID          uint64
	Name, Owner string
	PictureID   *uint64
	Level       Level
	UntilDay    *time.Time
}
