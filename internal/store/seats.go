package store

import (
	"context"

	"gorm.io/gorm/clause"
)

// Place is where a student sits, from 1: the row from the front, the column from the left.
type Place struct{ Row, Column int }

// SetSeats keeps where the students of one of the teacher's classes sit; who is not named
// sits nowhere. ErrNotFound where one is not of the class.
func (s *Store) SetSeats(ctx context.Context, teacher, class uint64, seats map[uint64]Place) error {
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
