package roster

import (
	"context"
	"fmt"

	"zestysketch/internal/store"
)

// Here returns a school's classes in use as a set is compared with them, and its teachers by their e-mails.
func Here(ctx context.Context, s *store.Store, school uint64) (here []HereClass, teachers map[string]uint64, err error) {
	people, err := s.People(ctx, school)
	if err != nil {
		return nil, nil, err
	}
	teachers, emails := map[string]uint64{}, map[uint64]string{}
	for _, p := range people {
		if emails[p.ID] = p.Email; p.DisabledAt == nil {
			teachers[p.Email] = p.ID
		}
	}
	classes, err := s.SchoolClasses(ctx, school)
	for _, c := range classes {
		h := HereClass{ID: c.ID, Teacher: c.TeacherID, Email: emails[c.TeacherID], OutsideID: valueOf(c.OutsideID), Name: c.Name}
		for _, one := range c.Students {
			h.Students = append(h.Students, HereStudent{ID: one.ID, OutsideID: valueOf(one.OutsideID), Name: one.Name, Left: one.LeftAt != nil})
		}
		here = append(here, h)
	}
	return here, teachers, err
}

func valueOf(s *string) string {
	if s == nil {
		return ""
	}
	return *s
}

// Take does what somebody has confirmed of a school's list, all or nothing. store.ErrNotFound where a teacher, class or student
// is not the school's, or is the school's no more.
func Take(ctx context.Context, s *store.Store, school uint64, changes []Change) error {
	return s.Transaction(ctx, func(s *store.Store) error {
		made := map[string]uint64{} // classes by how the list knows them
		for _, c := range changes {
			if _, err := s.Colleague(ctx, school, c.Teacher); err != nil {
				return err
			}
			if c.Class == 0 {
				c.Class = made[c.Outside]
			}
			if c.Class == 0 {
				class, err := s.AddClass(ctx, c.Teacher, c.Title)
				if err != nil {
					return err
				}
				c.Class, made[c.Outside] = class.ID, class.ID
			}
			if err := s.KnowClass(ctx, c.Teacher, c.Class, c.Outside); err != nil {
				return err
			}
			if err := takeOne(ctx, s, c); err != nil {
				return fmt.Errorf("%s: %w", c.Title, err)
			}
		}
		return nil
	})
}

func takeOne(ctx context.Context, s *store.Store, c Change) error {
	switch c.Kind {
	case Joins, Known:
		_, err := s.ImportStudents(ctx, c.Teacher, c.Class, []store.Enrol{{Name: c.Name, OutsideID: c.ID}})
		return err
	case Moves:
		_, err := s.MoveStudent(ctx, c.Teacher, c.Student, c.Class, true)
		return err
	case Leaves:
		return s.LeaveClass(ctx, c.Teacher, c.Student, true)
	}
	return nil
}
