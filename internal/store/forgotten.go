package store

import (
	"context"
	"time"

	"gorm.io/gorm/clause"
)

// Forgotten says that a student was forgotten, so that a backup of before that is
// restored forgets them too. It names nobody.
type Forgotten struct {
	StudentID   uint64 `gorm:"primaryKey"`
	ForgottenAt time.Time
}

// TableName names the table of Forgotten.
func (Forgotten) TableName() string { return "forgotten" }

// Forgotten returns the numbers of who was forgotten.
func (s *Store) Forgotten(ctx context.Context) (ids []uint64, err error) {
	err = s.with(ctx).Model(&Forgotten{}).Order("student_id").Pluck("student_id", &ids).Error
	return ids, err
}

// OnForgotten has something done whenever a student was forgotten, before that is
// answered. It is to be called once, before the store is in use.
func (s *Store) OnForgotten(do func(context.Context)) { s.forgotten = do }

// BackupFolder is a folder in which backups were written.
type BackupFolder struct {
	Host   string `gorm:"primaryKey"` // the machine's name
	Folder string `gorm:"primaryKey"`
	Told   uint64 // of how many who were forgotten the list in it tells
}

// AddBackupFolder notes that backups are written to a folder of a machine.
func (s *Store) AddBackupFolder(ctx context.Context, f BackupFolder) error {
	return s.with(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&f).Error
}

// Untold returns the folders of backups whose lists do not tell of everybody who was forgotten.
func (s *Store) Untold(ctx context.Context) (list []BackupFolder, err error) {
	err = s.with(ctx).Where("told < (SELECT COUNT(*) FROM forgotten)").Order("host, folder").Find(&list).Error
	return list, err
}

// ToldOf notes of how many who were forgotten the list in a folder tells now.
func (s *Store) ToldOf(ctx context.Context, f BackupFolder) error {
	return s.with(ctx).Model(&BackupFolder{}).Where("host = ? AND folder = ? AND told < ?", f.Host, f.Folder, f.Told).Update("told", f.Told).Error
}

// DropBackupFolder notes that the backups in a folder are no more.
func (s *Store) DropBackupFolder(ctx context.Context, host, folder string) error {
	return found(s.with(ctx).Where("host = ? AND folder = ?", host, folder).Delete(&BackupFolder{}))
}
