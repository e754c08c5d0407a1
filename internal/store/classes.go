package store

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/letters"
)

// Classes returns the teacher's classes that are in use, with their students, oldest first.
func (s *Store) Classes(ctx context.Context, teacher uint64) (classes []Class, err error) {
	err = s.with(ctx).Preload("Students", present).Where("teacher_id = ? AND put_away_at IS NULL", teacher).Order("id").Find(&classes).Error
	return classes, err
}

// inOrder sorts names as a dictionary does, Émile beside Emil; as letters they
// differ.
func inOrder(db *gorm.DB) *gorm.DB {
	return db.Order("students.name COLLATE utf8mb4_unicode_520_ci, students.name, students.id")
}

// Class returns one of the teacher's classes with its students by name.
func (s *Store) Class(ctx context.Context, teacher, id uint64) (Class, error) {
	var c Class
	err := s.with(ctx).Preload("Students", present).Where("teacher_id = ?", teacher).First(&c, id).Error
	return c, known(err)
}

// ClassChoice is a class that may be shown in a project.
type ClassChoice struct {
	ID       uint64
	Name     string
	Students int
	Drawing  bool // it draws the project already
}

// ClassChoices returns the teacher's classes for one of their projects.
func (s *Store) ClassChoices(ctx context.Context, teacher, project uint64) (list []ClassChoice, err error) {
	err = s.with(ctx).Model(&Class{}).
		Select(`classes.id, classes.name, (SELECT COUNT(*) FROM students WHERE students.class_id = classes.id AND students.left_at IS NULL) AS students,
			EXISTS (SELECT 1 FROM project_classes WHERE project_classes.class_id = classes.id AND project_classes.project_id = ?) AS drawing`, project).
		Where("classes.teacher_id = ? AND classes.put_away_at IS NULL", teacher).Order("classes.id").Find(&list).Error
	return list, err
}

// AddClass makes a class.
func (s *Store) AddClass(ctx context.Context, teacher uint64, name string) (Class, error) {
	c := Class{TeacherID: teacher, Name: name}
	err := s.with(ctx).Create(&c).Error
	return c, err
}

// AddStudents adds students by name to one of the teacher's classes. The error
// is ErrTaken, and nobody is added, where a name is there already: two students
// of one name are told apart by whoever knows them.
func (s *Store) AddStudents(ctx context.Context, teacher, class uint64, names []string) error {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return err
	}
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		for _, name := range names {
			if err := tx.Create(&Student{ClassID: class, Name: name, Hand: grid.RightHand}).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// Enrol is one student of a list that is taken into a class.
type Enrol struct {
	Name, OutsideID string
	Traits
}

// Enrolled says what taking a list in did.
type Enrolled struct{ New, Known int }

// Match returns, for each of a list, the student of a class who is meant, nil
// for somebody new: the one with the list's own id, else of the same name where
// neither has another id. Nobody is meant twice.
func Match(there []Student, list []Enrol) []*Student {
	meant, taken := make([]*Student, len(list)), map[uint64]bool{}
	find := func(is func(Student) bool) *Student {
		i := slices.IndexFunc(there, func(s Student) bool { return !taken[s.ID] && is(s) })
		if i < 0 {
			return nil
		}
		taken[there[i].ID] = true
		return &there[i]
	}
	for i, e := range list {
		if e.OutsideID != "" {
			meant[i] = find(func(s Student) bool { return s.OutsideID != nil && *s.OutsideID == e.OutsideID })
		}
	}
	for i, e := range list {
		if meant[i] == nil {
			meant[i] = find(func(s Student) bool { return s.Name == e.Name && (s.OutsideID == nil || e.OutsideID == "") })
		}
	}
	return meant
}

// ImportStudents takes a list into one of the teacher's classes. Who is meant
// by Match keeps what the list does not say; somebody new whose name is taken is
// numbered. Taking a list in twice adds nobody.
func (s *Store) ImportStudents(ctx context.Context, teacher, class uint64, list []Enrol) (done Enrolled, err error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return done, err
	}
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		done = Enrolled{}
		var there []Student
		if err := tx.Where("class_id = ?", class).Find(&there).Error; err != nil {
			return err
		}
		names := map[string]bool{}
		for _, s := range there {
			names[s.Name] = true
		}
		for i, known := range Match(there, list) {
			e := list[i]
			if known != nil {
				done.Known++
				said := e.says()
				said["left_at"] = nil // who is in the list is back
				if err := tx.Model(known).Updates(said).Error; err != nil {
					return err
				}
				continue
			}
			one := Student{ClassID: class, Name: free(e.Name, names), Hand: cmp.Or(e.Hand, grid.RightHand), Team: e.Team, Units: e.Units, Pace: e.Pace, Home: e.Home, Needs: e.Needs}
			if e.OutsideID != "" {
				one.OutsideID = &e.OutsideID
			}
			if err := tx.Create(&one).Error; err != nil {
				return err
			}
			names[one.Name] = true
			done.New++
		}
		return nil
	})
	return done, err
}

// longestName bounds a student's name, in letters.
const longestName = 40

// free returns a name, numbered where it is taken.
func free(name string, taken map[string]bool) string {
	one := name
	for n := 2; taken[one]; n++ {
		end := fmt.Sprintf(" %d", n)
		one = letters.Cut(name, longestName-len(end)) + end
	}
	return one
}

// says returns what a list says of a known student. Needs are left as they
// are: they change the plan that somebody may be drawing by.
func (e Enrol) says() map[string]any {
	values := map[string]any{}
	for column, v := range map[string]string{"team": e.Team, "hand": string(e.Hand), "units": e.Units, "pace": e.Pace, "home": e.Home, "outside_id": e.OutsideID} {
		if v != "" {
			values[column] = v
		}
	}
	return values
}

// Class is a group of students.
type Class struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Students  []Student
	OutsideID *string   // as the school's own system knows it
	Calendar  *Calendar // nil without lessons, or where it was not fetched
	PutAwayAt *time.Time
	CreatedAt time.Time
}

// Seating is where a student sits, from 1: the row from the front, the column from the left.
type Seating struct{ Row, Column int }

// SetSeats keeps where the students of one of the teacher's classes sit; who is not named
// sits nowhere. ErrNotFound where one is not of the class.
func (s *Store) SetSeats(ctx context.Context, teacher, class uint64, seats map[uint64]Seating) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var students []Student
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("class_id = (SELECT id FROM classes WHERE id = ? AND teacher_id = ?)", class, teacher).Find(&students).Error; err != nil {
			return err
		}
		found := 0
		for i := range students {
			students[i].SeatRow, students[i].SeatColumn = nil, nil
			if at, named := seats[students[i].ID]; named {
				students[i].SeatRow, students[i].SeatColumn, found = &at.Row, &at.Column, found+1
			}
		}
		if found < len(seats) || len(students) == 0 {
			return ErrNotFound
		}
		return tx.Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"seat_row", "seat_column"})}).Create(&students).Error
	})
}

// BySeat compares two students by where they sit, row by row from the front, every other row
// from the right, as one walks; who sits nowhere comes last.
func BySeat(a, b Student) int {
	key := func(s Student) int {
		if s.SeatRow == nil || s.SeatColumn == nil {
			return 1 << 20
		}
		column := *s.SeatColumn
		if *s.SeatRow%2 == 0 {
			column = 1000 - column
		}
		return *s.SeatRow*1000 + column
	}
	return key(a) - key(b)
}

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

// RemoveClass deletes one of the teacher's classes for good; ErrTaken where somebody is in it, or was.
func (s *Store) RemoveClass(ctx context.Context, teacher, id uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var class Class
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).Where("id = ? AND teacher_id = ?", id, teacher).Take(&class).Error; err != nil {
			return err
		}
		var students int64
		if err := tx.Model(&Student{}).Where("class_id = ?", id).Count(&students).Error; err != nil {
			return err
		}
		if students > 0 {
			return ErrTaken
		}
		return tx.Delete(&class).Error
	})
}

// ClassesAway returns the teacher's classes that were put away.
func (s *Store) ClassesAway(ctx context.Context, teacher uint64) (list []Class, err error) {
	err = s.with(ctx).Where("teacher_id = ? AND put_away_at IS NOT NULL", teacher).Order("put_away_at DESC").Find(&list).Error
	return list, err
}
