package store

import (
	"context"
	"errors"
	"strings"
	"sync"
)

// NewSchool returns a school of a name as it begins.
func NewSchool(name string) School {
	return School{Name: name, Units: "in", Dates: "en_GB"}
}

// AddTeacher makes a teacher at the school of that name, which is made if it
// is new; its first teacher looks after it. ErrTaken where the address is in use.
func (s *Store) AddTeacher(ctx context.Context, school, email, name, password string) (Teacher, error) {
	place, hash := NewSchool(school), HashPassword(password)
	var t Teacher
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Where("name = ?", school).Attrs(place).FirstOrCreate(&place).Error; err != nil {
			return err
		}
		t = Teacher{SchoolID: place.ID, Email: NormalAddress(email), Name: name, PasswordHash: hash}
		var there int64
		if err := tx.Model(&Teacher{}).Where("school_id = ?", place.ID).Count(&there).Error; err != nil {
			return err
		}
		t.Admin = there == 0
		return tx.Omit("School").Create(&t).Error
	})
	return t, err
}

// NormalAddress returns an address to sign in with as it is kept.
func NormalAddress(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// decoy is compared where there is no such teacher, so that the time taken
// does not tell which addresses exist.
var decoy = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn returns the teacher with this address and password, ErrNotFound if there is none.
func (s *Store) SignIn(ctx context.Context, email, password string) (Teacher, error) {
	var t Teacher
	err := known(s.with(ctx).Where("email = ?", NormalAddress(email)).First(&t).Error)
	if errors.Is(err, ErrNotFound) {
		passwordMatches(decoy(), password)
		return Teacher{}, ErrNotFound
	}
	if err != nil {
		return Teacher{}, err
	}
	if !passwordMatches(t.PasswordHash, password) || t.DisabledAt != nil {
		return Teacher{}, ErrNotFound
	}
	return t, nil
}

// Teacher returns a teacher with their school.
func (s *Store) Teacher(ctx context.Context, id uint64) (Teacher, error) {
	var t Teacher
	err := s.with(ctx).Joins("School").First(&t, id).Error
	return t, known(err)
}

// CountTeachers returns how many teachers there are.
func (s *Store) CountTeachers(ctx context.Context) (n int64, err error) {
	err = s.with(ctx).Model(&Teacher{}).Count(&n).Error
	return n, err
}

// SchoolOf returns the school of a teacher.
func (s *Store) SchoolOf(ctx context.Context, teacher uint64) (School, error) {
	var place School
	err := s.with(ctx).Joins("JOIN teachers ON teachers.school_id = schools.id").Where("teachers.id = ?", teacher).First(&place).Error
	return place, known(err)
}

// SetZone gives a school the zone of its clocks, as the IANA names it.
func (s *Store) SetZone(ctx context.Context, school uint64, zone string) error {
	return s.with(ctx).Model(&School{ID: school}).Update("zone", zone).Error
}

// SetSchool keeps what a school has settled: all of it but its secret.
func (s *Store) SetSchool(ctx context.Context, place School) error {
	err := s.with(ctx).Model(&School{ID: place.ID}).Select("Name", "Zone", "Units", "Paper", "Currency", "Dates", "PhotoMonths", "NoteMonths", "Address").Updates(place).Error
	return known(err)
}

// SetOwn keeps a teacher's own units and paper, empty for the school's.
func (s *Store) SetOwn(ctx context.Context, teacher uint64, units, paper string) error {
	return s.with(ctx).Model(&Teacher{}).Where("id = ?", teacher).Updates(map[string]any{"units": units, "paper": paper}).Error
}

// OwnAddress returns the address that a school here has settled for its links, empty
// where none has.
func (s *Store) OwnAddress(ctx context.Context) (address string, err error) {
	var all []string
	err = s.with(ctx).Model(&School{}).Where("address <> ''").Limit(1).Pluck("address", &all).Error
	if len(all) > 0 {
		address = all[0]
	}
	return address, err
}
