package store

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm/clause"

	"zestysketch/internal/letters"
)

// IdentityProvider is where a school has accounts of its teachers, by OpenID Connect.
type IdentityProvider struct {
	ID                     uint64
	SchoolID               uint64
	Name                   string // as teachers know it
	Issuer                 string // its address, as it writes it
	ClientID, Secret       string // how this program is known there
	Domains                string // whose addresses become teachers, with commas; empty for nobody's
	AdminClaim, AdminValue string // what an administrator's account says, empty for none
}

// identity is whose account a provider's subject is.
type identity struct {
	ProviderID uint64 `gorm:"primaryKey"`
	Subject    string `gorm:"primaryKey"`
	TeacherID  uint64
	CreatedAt  time.Time
}

// TableName names the table of identity.
func (identity) TableName() string { return "identities" }

// Account is what a provider said of somebody.
type Account struct {
	Subject, Email, Name string
	Verified             bool // the e-mail
	Admin                bool // the provider says that they look after the school
}

// Why an account lets nobody in; ErrNotFound is that of one that nobody knows here.
var (
	ErrNoEmail    = errors.New("the account has no e-mail")
	ErrUnverified = errors.New("nobody has confirmed the account's e-mail")
	ErrDisabled   = errors.New("the teacher may not sign in")
)

// IdentityProviders returns where a school has accounts, of all schools for school 0, by name.
func (s *Store) IdentityProviders(ctx context.Context, school uint64) (list []IdentityProvider, err error) {
	q := s.with(ctx)
	if school > 0 {
		q = q.Where("school_id = ?", school)
	}
	err = q.Order("name, id").Find(&list).Error
	return list, err
}

// IdentityProvider returns one of a school's, of any school's for school 0.
func (s *Store) IdentityProvider(ctx context.Context, school, id uint64) (p IdentityProvider, err error) {
	q := s.with(ctx)
	if school > 0 {
		q = q.Where("school_id = ?", school)
	}
	return p, known(q.First(&p, id).Error)
}

// KeepIdentityProvider keeps one of a school's, a new one without ID. An empty secret keeps the one
// that is there. Another issuer is another's accounts: whose was whose is forgotten.
func (s *Store) KeepIdentityProvider(ctx context.Context, p IdentityProvider) (IdentityProvider, error) {
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if p.ID == 0 {
			return tx.Create(&p).Error
		}
		old, err := s.IdentityProvider(ctx, p.SchoolID, p.ID)
		if err != nil {
			return err
		}
		if p.Secret == "" {
			p.Secret = old.Secret
		}
		if p.Issuer != old.Issuer {
			if err := tx.Where("provider_id = ?", p.ID).Delete(&identity{}).Error; err != nil {
				return err
			}
		}
		return tx.Save(&p).Error
	})
	return p, err
}

// DropIdentityProvider forgets one of a school's; with the last one passwords let in again.
func (s *Store) DropIdentityProvider(ctx context.Context, school, id uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := found(tx.Where("school_id = ?", school).Delete(&IdentityProvider{ID: id})); err != nil {
			return err
		}
		left, err := s.IdentityProviders(ctx, school)
		if err != nil || len(left) > 0 {
			return err
		}
		return s.SetAccountsOnly(ctx, school, false)
	})
}

// SetAccountsOnly lets a school's teachers sign in by accounts elsewhere alone, or by passwords too.
func (s *Store) SetAccountsOnly(ctx context.Context, school uint64, only bool) error {
	return s.with(ctx).Model(&School{ID: school}).Update("accounts_only", only).Error
}

// AccountsOnly reports whether a school's teachers sign in by accounts elsewhere alone.
func (s *Store) AccountsOnly(ctx context.Context, school uint64) (only bool, err error) {
	return only, s.with(ctx).Model(&School{}).Where("id = ?", school).Pluck("accounts_only", &only).Error
}

// AccountsEverywhere reports whether no school here takes passwords.
func (s *Store) AccountsEverywhere(ctx context.Context) (all bool, err error) {
	var others int64
	err = s.with(ctx).Model(&School{}).Where("NOT accounts_only").Count(&others).Error
	return others == 0, err
}

// SignInByAccount returns the teacher whose account it is: by its subject; the first time by its confirmed
// e-mail, a teacher of the provider's school, one who is invited, or one of a domain that joins by itself, who
// is made. An account never makes an administrator unless the provider says so, or who invited them did.
func (s *Store) SignInByAccount(ctx context.Context, p IdentityProvider, a Account) (t Teacher, err error) {
	for range tries {
		if t, err = s.signInByAccount(ctx, p, a); !errors.Is(err, ErrTaken) || s.attempt() != nil {
			break // else somebody signs in on two machines at once, the first time, and the other was quicker
		}
	}
	return t, err
}

func (s *Store) signInByAccount(ctx context.Context, p IdentityProvider, a Account) (t Teacher, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		t, err = s.teacherOf(ctx, p, a)
		if err != nil {
			return err
		}
		if t.DisabledAt != nil {
			return ErrDisabled
		}
		if a.Admin && !t.Admin {
			t.Admin = true
			return s.SetAdmin(ctx, p.SchoolID, t.ID, true)
		}
		return nil
	})
	return t, err
}

// errTried ends a transaction that was a try.
var errTried = errors.New("tried")

// TryAccount returns what SignInByAccount would, and whether the teacher would be made; nothing is kept.
func (s *Store) TryAccount(ctx context.Context, p IdentityProvider, a Account) (t Teacher, made bool, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		before, err := s.CountTeachers(ctx)
		if err != nil {
			return err
		}
		if t, err = s.SignInByAccount(ctx, p, a); err != nil {
			return err
		}
		after, err := s.CountTeachers(ctx)
		made = after > before
		return errors.Join(err, errTried)
	})
	if errors.Is(err, errTried) {
		err = nil
	}
	return t, made, err
}

func (s *Store) teacherOf(ctx context.Context, p IdentityProvider, a Account) (t Teacher, err error) {
	tx := s.with(ctx)
	err = known(tx.Joins("JOIN identities ON identities.teacher_id = teachers.id").
		Where("identities.provider_id = ? AND identities.subject = ? AND teachers.school_id = ?", p.ID, a.Subject, p.SchoolID).First(&t).Error)
	if !errors.Is(err, ErrNotFound) {
		return t, err
	}
	email := NormalAddress(a.Email)
	switch {
	case email == "":
		return t, ErrNoEmail
	case !a.Verified:
		return t, ErrUnverified
	}
	t, err = s.TeacherByAddress(ctx, email)
	if errors.Is(err, ErrNotFound) {
		t, err = s.newcomer(ctx, p, a)
	}
	if err == nil && t.SchoolID != p.SchoolID {
		err = ErrNotFound // of another school: its accounts are elsewhere
	}
	if err != nil || t.DisabledAt != nil {
		return t, err
	}
	return t, tx.Create(&identity{ProviderID: p.ID, Subject: a.Subject, TeacherID: t.ID, CreatedAt: time.Now().UTC()}).Error
}

// newcomer makes the teacher of an account, where they are invited or their domain joins by itself. They have
// no password.
func (s *Store) newcomer(ctx context.Context, p IdentityProvider, a Account) (Teacher, error) {
	tx, email := s.with(ctx), NormalAddress(a.Email)
	t := Teacher{SchoolID: p.SchoolID, Email: email, Name: nameOf(a)}
	var inv []Invitation
	invited := stands(tx).Where("kind = ? AND school_id = ? AND email = ?", ToJoin, p.SchoolID, email)
	if err := invited.Clauses(clause.Locking{Strength: "UPDATE"}).Limit(1).Find(&inv).Error; err != nil {
		return t, err
	}
	switch {
	case len(inv) > 0:
		t.Name, t.Admin = inv[0].Name, inv[0].Admin
		if err := s.Withdraw(ctx, p.SchoolID, email); err != nil {
			return t, err
		}
	case !p.Joins(email):
		return t, ErrNotFound
	}
	if err := CheckPerson(t.Name, t.Email); err != nil {
		return t, err
	}
	return t, tx.Omit("School").Create(&t).Error
}

// nameOf returns what somebody is called, by their address where the account does not say.
func nameOf(a Account) string {
	if name := strings.TrimSpace(a.Name); name != "" {
		return letters.Cut(name, LongestPerson)
	}
	name, _, _ := strings.Cut(a.Email, "@")
	return name
}

// Joins reports whether who has an address of this domain becomes a teacher by signing in.
func (p IdentityProvider) Joins(email string) bool {
	_, domain, ok := strings.Cut(NormalAddress(email), "@")
	return ok && slices.Contains(p.DomainList(), domain)
}

// DomainList returns the domains one by one.
func (p IdentityProvider) DomainList() (list []string) {
	for _, d := range strings.FieldsFunc(strings.ToLower(p.Domains), func(r rune) bool { return r == ',' || r == ' ' || r == ';' || r == '\n' }) {
		list = append(list, strings.TrimPrefix(d, "@"))
	}
	return list
}
