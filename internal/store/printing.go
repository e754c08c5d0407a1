package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Printers returns the teacher's printers with their corrections.
func (s *Store) Printers(ctx context.Context, teacher uint64) (list []Printer, err error) {
	err = s.with(ctx).Preload("Corrections").Where("teacher_id = ?", teacher).Order("id").Find(&list).Error
	return list, err
}

// Printer returns one of the teacher's printers.
func (s *Store) Printer(ctx context.Context, teacher, id uint64) (Printer, error) {
	var p Printer
	err := s.with(ctx).Preload("Corrections").Where("teacher_id = ?", teacher).First(&p, id).Error
	return p, known(err)
}

// AddPrinter keeps a printer.
func (s *Store) AddPrinter(ctx context.Context, p *Printer) error {
	return s.with(ctx).Omit("Corrections").Create(p).Error
}

// RemovePrinter forgets one of the teacher's printers.
func (s *Store) RemovePrinter(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&Printer{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// Correct keeps what was measured of a printer that the caller has fetched.
func (s *Store) Correct(ctx context.Context, c Correction) error {
	return s.with(ctx).Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error
}

// PrintSets returns the teacher's saved sets.
func (s *Store) PrintSets(ctx context.Context, teacher uint64) (list []PrintSet, err error) {
	err = s.with(ctx).Where("teacher_id = ?", teacher).Order("id").Find(&list).Error
	return list, err
}

// AddPrintSet keeps a set.
func (s *Store) AddPrintSet(ctx context.Context, p *PrintSet) error {
	return s.with(ctx).Create(p).Error
}

// RemovePrintSet forgets one of the teacher's sets.
func (s *Store) RemovePrintSet(ctx context.Context, teacher, id uint64) error {
	res := s.with(ctx).Where("teacher_id = ?", teacher).Delete(&PrintSet{}, id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// Printer is a printer of the teacher's, with what was measured of it by paper.
type Printer struct {
	ID          uint64
	TeacherID   uint64
	Name        string
	Margin      float64 `gorm:"column:margin_mm"`
	Corrections []Correction
}

// Correction is what a printer makes of lengths on one paper, printed ÷ true.
type Correction struct {
	PrinterID uint64  `gorm:"primaryKey"`
	Paper     string  `gorm:"primaryKey"`
	Across    float64 `gorm:"column:across_scale"`
	Down      float64 `gorm:"column:down_scale"`
}

// PrintSet is a choice of pages kept under a name; its spec is package press's.
type PrintSet struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Spec      string
}
