package store

import (
	"cmp"
	"context"
	"strings"
	"zestysketch/internal/core/grid"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Classes returns the teacher's classes with their students, oldest first.
func (s *Store) Classes(ctx context.Context, teacher uint64) (classes []Class, err error) {
	err = s.with(ctx).Preload("Students", inOrder).Where("teacher_id = ?", teacher).Order("id").Find(&classes).Error
	return classes, err
}

func inOrder(db *gorm.DB) *gorm.DB { return db.Order("students.name, students.id") }

// Class returns one of the teacher's classes with its students by name.
func (s *Store) Class(ctx context.Context, teacher, id uint64) (Class, error) {
	var c Class
	err := s.with(ctx).Preload("Students", inOrder).Where("teacher_id = ?", teacher).First(&c, id).Error
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
		Select(`classes.id, classes.name, (SELECT COUNT(*) FROM students WHERE students.class_id = classes.id) AS students,
			EXISTS (SELECT 1 FROM project_classes WHERE project_classes.class_id = classes.id AND project_classes.project_id = ?) AS drawing`, project).
		Where("classes.teacher_id = ?", teacher).Order("classes.id").Find(&list).Error
	return list, err
}

// AddClass makes a class.
func (s *Store) AddClass(ctx context.Context, teacher uint64, name string) (Class, error) {
	c := Class{TeacherID: teacher, Name: name}
	err := s.with(ctx).Create(&c).Error
	return c, err
}

// AddStudents adds students by name to one of the teacher's classes. A name
// that is there already is left alone. It returns how many were new.
func (s *Store) AddStudents(ctx context.Context, teacher, class uint64, names []string) (added int, err error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return 0, err
	}
	err = s.change(ctx, func(tx *gorm.DB) error {
		added = 0
		for _, name := range names {
			student := Student{ClassID: class, Name: strings.TrimSpace(name), Hand: grid.RightHand}
			res := tx.Clauses(clause.Insert{Modifier: "IGNORE"}).Create(&student)
			if res.Error != nil {
				return res.Error
			}
			added += int(res.RowsAffected)
		}
		return nil
	})
	return added, err
}

// Enrol is one student of a list that is taken into a class.
type Enrol struct {
	Name, OutsideID string
	Traits
}

// Enrolled says what taking a list in did.
type Enrolled struct{ New, Known int }

// ImportStudents takes a list into one of the teacher's classes. A student is
// known by the list's own id, else by name; a known one keeps what the list
// does not say. Taking a list in twice adds nobody.
func (s *Store) ImportStudents(ctx context.Context, teacher, class uint64, list []Enrol) (done Enrolled, err error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return done, err
	}
	err = s.change(ctx, func(tx *gorm.DB) error {
		done = Enrolled{}
		var there []Student
		if err := tx.Where("class_id = ?", class).Find(&there).Error; err != nil {
			return err
		}
		byID, byName := map[string]*Student{}, map[string]*Student{}
		for i := range there {
			byName[there[i].Name] = &there[i]
			if id := there[i].OutsideID; id != nil {
				byID[*id] = &there[i]
			}
		}
		for _, e := range list {
			known := byID[e.OutsideID]
			if known == nil || e.OutsideID == "" {
				known = byName[e.Name]
			}
			if known != nil {
				done.Known++
				if err := tx.Model(known).Updates(e.says()).Error; err != nil {
					return err
				}
				continue
			}
			one := Student{ClassID: class, Name: e.Name, Hand: cmp.Or(e.Hand, grid.RightHand), Team: e.Team, Units: e.Units, Pace: e.Pace, Home: e.Home, Needs: e.Needs}
			if e.OutsideID != "" {
				one.OutsideID = &e.OutsideID
			}
			if err := tx.Create(&one).Error; err != nil {
				return err
			}
			byName[one.Name] = &one
			done.New++
		}
		return nil
	})
	return done, err
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
	if len(values) == 0 {
		values["name"] = gorm.Expr("name") // nothing to change
	}
	return values
}
