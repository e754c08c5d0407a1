package store

import (
	"bytes"
	"context"
	"math/rand/v2"

	"gorm.io/gorm/clause"

	"zestysketch/internal/core/lesson"
)

// Calendar is when a class has its lessons, and the hash of its feed's address.
type Calendar struct {
	ClassID  uint64          `gorm:"primaryKey"`
	Calendar lesson.Calendar `gorm:"serializer:json"`
	Number   uint32          // of the feed's renewal
	FeedHash []byte
	Feed     string `gorm:"-"` // the feed's letters; empty where they are not to be made again
}

// Calendar returns the calendar of one of the teacher's classes; ErrNotFound
// where it has none yet.
func (s *Store) Calendar(ctx context.Context, teacher, class uint64) (Calendar, error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return Calendar{}, err
	}
	var c Calendar
	if err := s.with(ctx).First(&c, "class_id = ?", class).Error; err != nil {
		return c, known(err)
	}
	school, err := secretOf(s.with(ctx), teacher)
	if feed := lettersOf(school, forFeed, class, uint64(c.Number)); bytes.Equal(linkHash(feed), c.FeedHash) {
		c.Feed = feed
	}
	return c, err
}

// SetCalendar keeps the calendar of one of the teacher's classes; its feed
// stays where it is. What the whole school has off is theirs too.
func (s *Store) SetCalendar(ctx context.Context, teacher, class uint64, c lesson.Calendar) error {
	one, err := s.feedOf(ctx, teacher, class)
	if err != nil {
		return err
	}
	var place School
	if err := s.with(ctx).Select("holidays").First(&place, "id = (?)", s.with(ctx).Model(&Teacher{}).Select("school_id").Where("id = ?", teacher)).Error; err != nil {
		return known(err)
	}
	one.Calendar = c
	one.Calendar.Off = place.Holidays
	return s.with(ctx).Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"calendar"})}).Create(&one).Error
}

// RenewFeed gives the calendar of one of the teacher's classes a new address;
// the old one opens nothing any more.
func (s *Store) RenewFeed(ctx context.Context, teacher, class uint64) error {
	one, err := s.feedOf(ctx, teacher, class)
	if err != nil {
		return err
	}
	return s.with(ctx).Model(&Calendar{}).Where("class_id = ?", class).Select("Number", "FeedHash").Updates(one).Error
}

// feedOf returns a class's calendar with a new feed and nothing else.
func (s *Store) feedOf(ctx context.Context, teacher, class uint64) (Calendar, error) {
	if _, err := s.Class(ctx, teacher, class); err != nil {
		return Calendar{}, err
	}
	school, err := secretOf(s.with(ctx), teacher)
	one := Calendar{ClassID: class, Number: rand.Uint32()}
	one.FeedHash = linkHash(lettersOf(school, forFeed, class, uint64(one.Number)))
	return one, err
}

// Feed returns the class and calendar that a feed's letters open: it ends with its teacher's
// signing in.
func (s *Store) Feed(ctx context.Context, feed string) (Class, Calendar, error) {
	var c Calendar
	err := s.with(ctx).Joins("JOIN classes ON classes.id = calendars.class_id").Joins("JOIN teachers ON teachers.id = classes.teacher_id").
		Where("teachers.disabled_at IS NULL").First(&c, "calendars.feed_hash = ?", linkHash(feed)).Error
	if err != nil {
		return Class{}, c, known(err)
	}
	var class Class
	err = known(s.with(ctx).First(&class, c.ClassID).Error)
	return class, c, err
}
