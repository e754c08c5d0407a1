package store

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"gorm.io/gorm"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/plane"
)

// present keeps those who have not left.
func present(db *gorm.DB) *gorm.DB { return inOrder(db.Where("students.left_at IS NULL")) }

// Student returns a student of one of the teacher's classes, also one who has left.
func (s *Store) Student(ctx context.Context, teacher, id uint64) (one Student, err error) {
	err = s.with(ctx).Joins("JOIN classes ON classes.id = students.class_id").Where("classes.teacher_id = ?", teacher).First(&one, "students.id = ?", id).Error
	return one, known(err)
}

// LeftOf returns who has left the teacher's classes, by class.
func (s *Store) LeftOf(ctx context.Context, teacher uint64) (map[uint64][]Student, error) {
	var list []Student
	err := inOrder(s.with(ctx).Joins("JOIN classes ON classes.id = students.class_id").Where("classes.teacher_id = ? AND students.left_at IS NOT NULL", teacher)).Find(&list).Error
	by := map[uint64][]Student{}
	for _, one := range list {
		by[one.ClassID] = append(by[one.ClassID], one)
	}
	return by, err
}

// changeStudent changes a student of one of the teacher's classes.
func (s *Store) changeStudent(ctx context.Context, teacher, id uint64, work func(tx *gorm.DB, one Student) error) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		one, err := s.Student(ctx, teacher, id)
		if err != nil {
			return err
		}
		return work(tx, one)
	})
}

// RenameStudent gives a student another name; ErrTaken where it is somebody's in
// their class.
func (s *Store) RenameStudent(ctx context.Context, teacher, id uint64, name string) error {
	return s.changeStudent(ctx, teacher, id, func(tx *gorm.DB, one Student) error {
		return tx.Model(&one).Update("name", name).Error
	})
}

// LeaveClass takes a student off walls, prints and totals, and ends their links;
// their work is kept. Coming back undoes the first.
func (s *Store) LeaveClass(ctx context.Context, teacher, id uint64, left bool) error {
	return s.changeStudent(ctx, teacher, id, func(tx *gorm.DB, one Student) error {
		if !left {
			return tx.Model(&one).Update("left_at", nil).Error
		}
		if err := endLinks(tx.Where("student_id = ?", id)); err != nil {
			return err
		}
		return tx.Model(&one).Update("left_at", time.Now()).Error
	})
}

// MoveStudent moves a student to another of the teacher's classes: with their
// work, or as somebody who begins anew there, while their work stays behind with
// who has left. A name that is taken there is numbered. It returns the student
// there.
func (s *Store) MoveStudent(ctx context.Context, teacher, id, class uint64, withWork bool) (there uint64, err error) {
	err = s.changeStudent(ctx, teacher, id, func(tx *gorm.DB, one Student) error {
		to, err := s.Class(ctx, teacher, class)
		if err != nil {
			return err
		}
		if to.ID == one.ClassID {
			there = one.ID
			return nil
		}
		var names []string
		if err := tx.Model(&Student{}).Where("class_id = ?", to.ID).Pluck("name", &names).Error; err != nil {
			return err
		}
		taken := map[string]bool{}
		for _, n := range names {
			taken[n] = true
		}
		name := free(one.Name, taken)
		if err := endLinks(tx.Where("student_id = ?", id)); err != nil {
			return err
		}
		if withWork {
			there = one.ID
			return tx.Model(&one).Updates(map[string]any{"class_id": to.ID, "name": name, "left_at": nil}).Error
		}
		anew := one
		anew.ID, anew.ClassID, anew.Name, anew.LeftAt, anew.CreatedAt = 0, to.ID, name, nil, time.Time{}
		if err := tx.Create(&anew).Error; err != nil {
			return err
		}
		there = anew.ID
		return tx.Model(&one).Update("left_at", time.Now()).Error
	})
	return there, err
}

// studentTables are all that hold something of a student by number, and whether
// there may be one row only of what the other columns name.
var studentTables = []struct {
	name string
	once bool
}{{"ticks", true}, {"tick_history", true}, {"stage_records", true}, {"assignments", true}, {"seats", true}, {"absences", true}, {"reached", true}, {"helps", true}, {"trainings", true},
	{"own_marks", true}, {"helper_links", false}, {"verdicts", true}, {"check_ins", false}, {"notes", false}, {"changes", false}, {"student_links", true}, {"pictures", false}}

// MergeStudents makes one of two students of a class who are one person: what
// both have of a kind, such as a tick of a box, the one who stays keeps.
func (s *Store) MergeStudents(ctx context.Context, teacher, from, into uint64) error {
	return s.changeStudent(ctx, teacher, from, func(tx *gorm.DB, one Student) error {
		stays, err := s.Student(ctx, teacher, into)
		if err != nil {
			return err
		}
		if stays.ID == one.ID || stays.ClassID != one.ClassID {
			return ErrNotFound
		}
		for _, t := range studentTables {
			ignore := ""
			if t.once {
				ignore = "IGNORE "
			}
			if err := tx.Exec(fmt.Sprintf("UPDATE %s%s SET student_id = ? WHERE student_id = ?", ignore, t.name), into, from).Error; err != nil {
				return err
			}
		}
		return tx.Delete(&one).Error // with what could not go over
	})
}

// Rows returns everything that the database holds of a student of one of the
// teacher's classes, by table, without the bytes of photos.
func (s *Store) Rows(ctx context.Context, teacher, id uint64) (map[string][]map[string]any, error) {
	one, err := s.Student(ctx, teacher, id)
	if err != nil {
		return nil, err
	}
	all := map[string][]map[string]any{}
	read := func(table, query string, args ...any) error {
		var rows []map[string]any
		err := s.with(ctx).Raw(query, args...).Scan(&rows).Error
		for _, row := range rows {
			for column, v := range row {
				if b, ok := v.([]byte); ok && utf8.Valid(b) {
					row[column] = string(b)
				}
			}
		}
		if len(rows) > 0 {
			all[table] = rows
		}
		return err
	}
	if err := read("students", "SELECT * FROM students WHERE id = ?", one.ID); err != nil {
		return nil, err
	}
	for _, t := range studentTables {
		if t.name == "student_links" || t.name == "changes" {
			continue // a secret's hash, and a bell that rang
		}
		if err := read(t.name, "SELECT * FROM "+t.name+" WHERE student_id = ?", id); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// PhotosOf returns the photos of a student that the caller has fetched: of their
// drawings, and beside notes on them.
func (s *Store) PhotosOf(ctx context.Context, student uint64) (list []Picture, err error) {
	return photosOf(s.with(ctx), student)
}

// SharedPhotos returns, of the photos that show a student's drawing and another's too, where theirs lies, in the
// photo's pixels: nil where nobody has placed it. The student must be known to be the teacher's.
func (s *Store) SharedPhotos(ctx context.Context, student uint64) (map[uint64]*plane.Quad, error) {
	var list []CheckIn
	err := s.with(ctx).Select("picture_id", "corners").Order("id").
		Where("student_id = ? AND EXISTS (SELECT 1 FROM check_ins o WHERE o.picture_id = check_ins.picture_id AND o.student_id <> ?)", student, student).
		Find(&list).Error
	shared := map[uint64]*plane.Quad{}
	for _, c := range list {
		if shared[c.PictureID] == nil {
			shared[c.PictureID] = c.Corners
		}
	}
	return shared, err
}

func photosOf(tx *gorm.DB, student uint64) (list []Picture, err error) {
	err = tx.Where("student_id = ? OR purpose = ? AND id IN (SELECT picture_id FROM check_ins WHERE student_id = ? UNION SELECT picture_id FROM notes WHERE student_id = ?)",
		student, ForCheckIn, student, student).
		Order("id").Find(&list).Error
	return list, err
}

// ProjectNames returns the names of the teacher's projects by number.
func (s *Store) ProjectNames(ctx context.Context, teacher uint64) (map[uint64]string, error) {
	var list []Project
	names := map[uint64]string{}
	err := s.with(ctx).Select("id", "name").Where("teacher_id = ?", teacher).Find(&list).Error
	for _, p := range list {
		names[p.ID] = p.Name
	}
	return names, err
}

// Student is known by a short name or a code, no more.
type Student struct {
	ID        uint64
	ClassID   uint64
	Name      string
	Hand      grid.Hand
	Units     string  // in, cm or mm where they read other units than the class; else empty
	OutsideID *string // as the school's own list knows them
	Team      string  // a group within the class
	Pace      string  // slow or quick as the teacher knows them, empty for usual
	Home      string  // what they have at home, words with commas
	Needs     string  // words with commas, of Needs
	LeftAt    *time.Time
	// Where they sit, from 1, from the front and from the left; nil where nobody said.
	SeatRow, SeatColumn *int
	CreatedAt           time.Time
}

// What a student may need that changes their pages.
const (
	NeedFewer    = "fewer and larger boxes"
	NeedMore     = "more and smaller boxes"
	NeedContrast = "high contrast"
	NeedDots     = "dot sheet"
)

// Needs lists them.
var Needs = []string{NeedFewer, NeedMore, NeedContrast, NeedDots}

// Has reports whether the student has a need.
func (s Student) Has(need string) bool { return slices.Contains(strings.Split(s.Needs, ", "), need) }

// Reached says that a student has reached one of the road's objectives.
type Reached struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Objective string `gorm:"primaryKey"`
}
