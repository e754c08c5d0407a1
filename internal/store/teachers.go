package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"
	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// NewSchool returns a school of a name as it begins.
func NewSchool(name string) School { return School{Name: name, Units: "in", Dates: "en_GB"} }

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
	if t.PasswordHash == "" {
		t.PasswordHash, password = decoy(), "" // who has an account elsewhere alone takes as long
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

// SetSchool keeps what a school has settled: all of it but its secret. Its holidays are its classes' too.
func (s *Store) SetSchool(ctx context.Context, place School) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		err := tx.Model(&School{ID: place.ID}).Select("Name", "Zone", "Units", "Paper", "Currency", "Dates", "PhotoMonths", "NoteMonths", "Address", "Holidays").Updates(place).Error
		if err != nil {
			return known(err)
		}
		var all []Calendar
		ofSchool := tx.Joins("JOIN classes ON classes.id = calendars.class_id").Joins("JOIN teachers ON teachers.id = classes.teacher_id")
		if err := ofSchool.Where("teachers.school_id = ?", place.ID).Find(&all).Error; err != nil {
			return err
		}
		for _, c := range all {
			if slices.Equal(c.Calendar.Off, place.Holidays) {
				continue
			}
			c.Calendar.Off = place.Holidays
			if err := tx.Model(&Calendar{}).Where("class_id = ?", c.ClassID).Select("Calendar").Updates(c).Error; err != nil {
				return err
			}
		}
		return nil
	})
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

// What an account may hold, in letters.
const (
	LongestSchool, LongestEmail, LongestPerson = 120, 190, 80
	leastPassword, mostPassword                = 10, 200
)

// ErrAccount is wrapped by the error of a name, an address or a password that
// cannot be taken; the rest of it says why, in words.
var ErrAccount = errors.New("cannot be taken")

// guessed is the score of zxcvbn, 0 to 4, up to which a password is guessed soon.
const guessed = 1

// CheckPassword says what is wrong with a password for whoever the other words
// are about: too short, or among those that are tried first.
func CheckPassword(password string, about ...string) error {
	switch n := utf8.RuneCountInString(password); {
	case !utf8.ValidString(password) || n < leastPassword:
		return fmt.Errorf("%w: wanted a password of at least %d letters, got %d", ErrAccount, leastPassword, n)
	case n > mostPassword:
		return fmt.Errorf("%w: wanted a password of at most %d letters, got %d", ErrAccount, mostPassword, n)
	case zxcvbn.PasswordStrength(password, about).Score <= guessed:
		return fmt.Errorf("%w: this password is among those that are tried first; three or four words that only you put together do well", ErrAccount)
	}
	return nil
}

// CheckPerson says what is wrong with a teacher's name or address.
func CheckPerson(name, email string) error {
	at := strings.Index(email, "@")
	switch {
	case strings.TrimSpace(name) == "" || !utf8.ValidString(name) || utf8.RuneCountInString(name) > LongestPerson:
		return fmt.Errorf("%w: wanted a name of at most %d letters", ErrAccount, LongestPerson)
	case at < 1 || at == len(email)-1 || !utf8.ValidString(email) || strings.ContainsAny(email, " \t\r\n") || utf8.RuneCountInString(email) > LongestEmail:
		return fmt.Errorf("%w: wanted an address such as name@school.example, of at most %d letters", ErrAccount, LongestEmail)
	}
	return nil
}

// SetPerson changes a teacher's name and address; ErrTaken where somebody else
// signs in with it.
func (s *Store) SetPerson(ctx context.Context, teacher uint64, name, email string) error {
	return s.changeTeacher(ctx, teacher, map[string]any{"name": name, "email": NormalAddress(email)})
}

// SetPassword gives a teacher another password, and ends all their sessions and every link
// by which it could be changed again.
func (s *Store) SetPassword(ctx context.Context, teacher uint64, password string) error {
	hash := HashPassword(password)
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.EndSignIns(ctx, teacher, 0); err != nil {
			return err
		}
		if err := s.with(ctx).Where("kind = ? AND teacher_id = ?", ToReset, teacher).Delete(&Invitation{}).Error; err != nil {
			return err
		}
		return s.changeTeacher(ctx, teacher, map[string]any{"password_hash": hash})
	})
}

func (s *Store) changeTeacher(ctx context.Context, teacher uint64, values map[string]any) error {
	return found(s.with(ctx).Model(&Teacher{}).Where("id = ?", teacher).Updates(values))
}

// TeacherByAddress returns the teacher who signs in with an address.
func (s *Store) TeacherByAddress(ctx context.Context, email string) (t Teacher, err error) {
	err = s.with(ctx).Where("email = ?", NormalAddress(email)).First(&t).Error
	return t, known(err)
}

// School is where teachers work.
type School struct {
	ID        uint64
	Name      string
	Zone      string // of its clocks, as the IANA names it; empty for the server's own
	Secret    []byte // that its links are made from; nil until one is
	CreatedAt time.Time

	Units, Paper string // that projects begin with, and pages are printed on; no paper is the usual one for the units
	Currency     string // before or beside a price, such as € or $; may be empty
	Dates        string // the language that dates are written in, a locale such as en_GB
	PhotoMonths  int    // after which photos of drawings end, 0 for never
	NoteMonths   int    // after which notes end
	Address      string // by which tablets reach this program, https://host; empty for the one its teachers use

	Holidays []lesson.Day `gorm:"serializer:json"` // of all its classes

	AccountsOnly bool // its teachers sign in by accounts elsewhere, not by passwords
}

// Teacher signs in and owns classes, pictures and projects.
type Teacher struct {
	ID           uint64
	SchoolID     uint64
	School       School
	Email, Name  string
	PasswordHash string     // empty for who signs in by an account elsewhere alone
	Admin        bool       // looks after the school's people and settings
	DisabledAt   *time.Time // nil while they may sign in
	Units, Paper string     // of their own, empty for the school's
	SecondSecret string     // of the second step of signing in, empty for none
	SecondStep   int64      // the step of the last code taken: none is taken twice
	YearBegun    *YearBegun `gorm:"serializer:json"` // the last new school year, nil for none that can be taken back
	CreatedAt    time.Time
}

// ErrLast is the error of a change that would leave a school without an administrator.
var ErrLast = errors.New("somebody has to look after the school; make a colleague an administrator first")

// Person is a teacher as their school's administrators see them.
type Person struct {
	Teacher
	SeenAt            *time.Time // last, of late
	Classes, Projects int        // in use
}

// People returns the teachers of a school, those who may sign in first.
func (s *Store) People(ctx context.Context, school uint64) (list []Person, err error) {
	err = s.with(ctx).Model(&Teacher{}).Select(`teachers.*, (SELECT MAX(seen_at) FROM sign_ins WHERE sign_ins.teacher_id = teachers.id) AS seen_at,
		(SELECT COUNT(*) FROM classes WHERE classes.teacher_id = teachers.id AND classes.put_away_at IS NULL) AS classes,
		(SELECT COUNT(*) FROM projects WHERE projects.teacher_id = teachers.id AND projects.deleted_at IS NULL AND projects.put_away_at IS NULL) AS projects`).
		Where("school_id = ?", school).Order("disabled_at IS NOT NULL, name, id").Find(&list).Error
	return list, err
}

// ClassesOfSchool returns the classes of a school that are in use, by teacher.
func (s *Store) ClassesOfSchool(ctx context.Context, school uint64) (map[uint64][]Class, error) {
	var list []Class
	err := s.with(ctx).Joins("JOIN teachers ON teachers.id = classes.teacher_id").
		Where("teachers.school_id = ? AND classes.put_away_at IS NULL", school).Order("classes.id").Find(&list).Error
	by := map[uint64][]Class{}
	for _, c := range list {
		by[c.TeacherID] = append(by[c.TeacherID], c)
	}
	return by, err
}

// Colleagues returns who else may sign in at a teacher's school, by name.
func (s *Store) Colleagues(ctx context.Context, t Teacher) (list []Teacher, err error) {
	err = s.with(ctx).Where("school_id = ? AND id <> ? AND disabled_at IS NULL", t.SchoolID, t.ID).Order("name, id").Find(&list).Error
	return list, err
}

// Colleague returns a teacher of a school; ErrNotFound for one of another.
func (s *Store) Colleague(ctx context.Context, school, id uint64) (t Teacher, err error) {
	err = s.with(ctx).Where("school_id = ?", school).First(&t, id).Error
	return t, known(err)
}

// SetAdmin makes a teacher of a school an administrator, or one no longer. The
// error is ErrLast where nobody would be left to be one.
func (s *Store) SetAdmin(ctx context.Context, school, id uint64, admin bool) error {
	return s.changePerson(ctx, school, id, map[string]any{"admin": admin})
}

// Disable lets a teacher of a school sign in no more, and signs them out; their
// work stays. Nil lets them in again. The error is ErrLast as with SetAdmin.
func (s *Store) Disable(ctx context.Context, school, id uint64, at *time.Time) error {
	return s.Transaction(ctx, func(s *Store) error {
		if err := s.changePerson(ctx, school, id, map[string]any{"disabled_at": at}); err != nil || at == nil {
			return err
		}
		return s.EndSignIns(ctx, id, 0)
	})
}

// changePerson changes a teacher while nobody else changes who looks after the
// school: two administrators who take each other's leave at once do not both go.
func (s *Store) changePerson(ctx context.Context, school, id uint64, values map[string]any) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Clauses(clause.Locking{Strength: "UPDATE"}).First(&School{}, school).Error; err != nil {
			return err
		}
		if err := tx.Where("school_id = ?", school).First(&Teacher{}, id).Error; err != nil {
			return err
		}
		if err := tx.Model(&Teacher{}).Where("id = ?", id).Updates(values).Error; err != nil {
			return err
		}
		var left int64
		err := tx.Model(&Teacher{}).Where("school_id = ? AND admin AND disabled_at IS NULL", school).Count(&left).Error
		if err == nil && left == 0 {
			return ErrLast
		}
		return err
	})
}

// ManySchools reports whether there are several schools in the database.
func (s *Store) ManySchools(ctx context.Context) (bool, error) {
	var n int64
	err := s.with(ctx).Model(&School{}).Count(&n).Error
	return n > 1, err
}
