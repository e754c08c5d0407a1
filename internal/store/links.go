package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"strings"
	"zestysketch/internal/core/grid"

	"gorm.io/gorm"
)

// linkBytes is how long a link's secret is: not to be guessed.
const linkBytes = 16

// AddLink makes a link for a student of a project that the caller has fetched,
// and returns its secret, which is kept nowhere.
func (s *Store) AddLink(ctx context.Context, project, student uint64) (string, error) {
	secret := secret()
	return secret, s.with(ctx).Create(&StudentLink{Hash: linkHash(secret), ProjectID: project, StudentID: student}).Error
}

// secret returns letters that nobody guesses.
func secret() string {
	b := make([]byte, linkBytes)
	rand.Read(b) // never fails
	return strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b))
}

func linkHash(secret string) []byte {
	h := sha256.Sum256([]byte(secret))
	return h[:]
}

// Linked returns the project and student that a link's secret opens;
// ErrNotFound for one that was never made or was revoked.
func (s *Store) Linked(ctx context.Context, secret string) (p Project, student Student, err error) {
	err = s.with(ctx).Joins("JOIN student_links ON student_links.student_id = students.id").First(&student, "student_links.hash = ?", linkHash(secret)).Error
	if err != nil {
		return p, student, known(err)
	}
	err = s.projects(ctx).Joins("JOIN student_links ON student_links.project_id = projects.id").First(&p, "student_links.hash = ?", linkHash(secret)).Error
	return p, student, known(err)
}

// RevokeLinks ends every link of a student in one of the teacher's classes.
func (s *Store) RevokeLinks(ctx context.Context, teacher, student uint64) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := ofTeacher(tx, teacher, student); err != nil {
			return err
		}
		return tx.Where("student_id = ?", student).Delete(&StudentLink{}).Error
	})
}

// ofTeacher returns ErrNotFound unless the student is in one of the teacher's classes.
func ofTeacher(tx *gorm.DB, teacher, student uint64) error {
	return tx.Joins("JOIN classes ON classes.id = students.class_id").
		Where("classes.teacher_id = ?", teacher).First(&Student{}, "students.id = ?", student).Error
}

// InNeed returns the students of a project that the caller has fetched, in any
// of its classes, who need pages of their own.
func (s *Store) InNeed(ctx context.Context, project uint64) (students []Student, err error) {
	err = s.with(ctx).Joins("JOIN project_classes ON project_classes.class_id = students.class_id").
		Where("project_classes.project_id = ? AND students.needs <> ''", project).Find(&students).Error
	return students, err
}

// ProjectsOf returns the teacher's projects that a student draws.
func (s *Store) ProjectsOf(ctx context.Context, teacher, student uint64) (projects []Project, err error) {
	err = s.with(ctx).Preload("Picture").Joins("JOIN project_classes ON project_classes.project_id = projects.id").
		Joins("JOIN students ON students.class_id = project_classes.class_id").
		Where("projects.teacher_id = ? AND students.id = ?", teacher, student).Find(&projects).Error
	return projects, err
}

// Traits are what a teacher knows of a student, beside the name.
type Traits struct {
	Hand                           grid.Hand
	Units, Team, Pace, Home, Needs string
}

// DescribeStudent keeps what the teacher knows of a student.
func (s *Store) DescribeStudent(ctx context.Context, teacher, student uint64, t Traits) error {
	return s.change(ctx, func(tx *gorm.DB) error {
		if err := ofTeacher(tx, teacher, student); err != nil {
			return err
		}
		return tx.Model(&Student{ID: student}).Select("Hand", "Units", "Team", "Pace", "Home", "Needs").
			Updates(Student{Hand: t.Hand, Units: t.Units, Team: t.Team, Pace: t.Pace, Home: t.Home, Needs: t.Needs}).Error
	})
}
