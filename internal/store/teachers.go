package store

import (
	"context"
	"errors"
	"strings"
	"sync"
)

// AddTeacher makes a teacher at the school of that name, which is made if it
// is new. ErrTaken where the address is in use.
func (s *Store) AddTeacher(ctx context.Context, school, email, name, password string) (Teacher, error) {
	place := School{Name: school}
	if err := s.with(ctx).Where(School{Name: school}).FirstOrCreate(&place).Error; err != nil {
		return Teacher{}, known(err)
	}
	t := Teacher{SchoolID: place.ID, Email: normalAddress(email), Name: name, PasswordHash: HashPassword(password)}
	err := known(s.with(ctx).Omit("School").Create(&t).Error)
	return t, err
}

func normalAddress(email string) string { return strings.ToLower(strings.TrimSpace(email)) }

// decoy is compared where there is no such teacher, so that the time taken
// does not tell which addresses exist.
var decoy = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn returns the teacher with this address and password, ErrNotFound if there is none.
func (s *Store) SignIn(ctx context.Context, email, password string) (Teacher, error) {
	var t Teacher
	err := known(s.with(ctx).Where("email = ?", normalAddress(email)).First(&t).Error)
	if errors.Is(err, ErrNotFound) {
		passwordMatches(decoy(), password)
		return Teacher{}, ErrNotFound
	}
	if err != nil {
		return Teacher{}, err
	}
	if !passwordMatches(t.PasswordHash, password) {
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
