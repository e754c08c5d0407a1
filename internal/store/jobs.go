package store

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"sync"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"zestysketch/internal/letters"
)

// JobKind is what a job makes.
type JobKind string

// The kinds of jobs: a class set to print, a photo to measure.
const (
	SetJob   JobKind = "set"
	PhotoJob JobKind = "photo"
)

// JobState is how far a job is.
type JobState string

// The states of a job, in the order in which it passes them; the last three
// are ends.
const (
	Queued    JobState = "queued"
	Running   JobState = "running"
	Done      JobState = "done"
	Failed    JobState = "failed"
	Cancelled JobState = "cancelled"
)

// Job is work for whichever copy of the program takes it.
type Job struct {
	ID        uint64
	ProjectID uint64
	Kind      JobKind
	Spec      string // what is to be done, JSON of its maker's
	Urgent    bool   // somebody waits for this one
	Hash      []byte // of a photo and whose it is said to be: sent twice, it is one job
	State     JobState
	Done      int // students
	Total     int
	Message   string    // what a person should know: who was left out, or why it failed
	Result    []JobLine `gorm:"serializer:json"` // what came of a photo
	CreatedAt time.Time
	BeatAt    *time.Time // when its maker last said that it lives
	Tries     int        // how often it was taken
	Stumbles  int        // how often its maker stumbled over it, or was ended at it
	Holder    string     // the worker that has it
}

// JobLine is one drawing that was found on a photo.
type JobLine struct {
	Words   string
	CheckIn uint64 // 0 where it waits in the tray
}

// JobFile is what a job was given to work on, or has made: a photo until it is
// measured, the PDF of a finished set.
type JobFile struct {
	JobID uint64 `gorm:"primaryKey"`
	Bytes []byte
}

// AddJob queues a job for one of the teacher's projects.
func (s *Store) AddJob(ctx context.Context, teacher uint64, j *Job) error {
	if err := s.owns(ctx, teacher, j.ProjectID); err != nil {
		return err
	}
	j.State = Queued
	if err := s.with(ctx).Create(j).Error; err != nil {
		return err
	}
	s.afterwards(s.bell.ring)
	return nil
}

// AddPhoto queues a photo to be measured; j.Spec says what is known of it. One
// that waits or is at work already is not queued twice: j becomes that one.
func (s *Store) AddPhoto(ctx context.Context, teacher uint64, j *Job, photo []byte) error {
	if err := s.owns(ctx, teacher, j.ProjectID); err != nil {
		return err
	}
	sum := sha256.New()
	fmt.Fprintf(sum, "%d %s\n", j.ProjectID, j.Spec)
	sum.Write(photo)
	j.Kind, j.State, j.Hash = PhotoJob, Queued, sum.Sum(nil)
	fresh := *j
	err := s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var there []Job
		if err := tx.Where("project_id = ? AND hash = ?", fresh.ProjectID, fresh.Hash).Find(&there).Error; err != nil {
			return err
		}
		if len(there) > 0 && (there[0].State == Queued || there[0].State == Running) {
			*j = there[0]
			return nil
		}
		if len(there) > 0 { // it ended: this is asked anew
			if err := tx.Delete(&Job{}, there[0].ID).Error; err != nil {
				return err
			}
		}
		*j = fresh
		if err := tx.Create(j).Error; err != nil {
			return err
		}
		return tx.Create(&JobFile{j.ID, photo}).Error
	})
	if err == nil {
		s.afterwards(s.bell.ring)
	}
	return err
}

// Jobs returns a project's latest jobs of a kind, the newest first, 10 at most.
func (s *Store) Jobs(ctx context.Context, project uint64, kind JobKind) (list []Job, err error) {
	err = s.with(ctx).Where("project_id = ? AND kind = ?", project, kind).Order("id DESC").Limit(10).Find(&list).Error
	return list, err
}

// mostPhotos is how many photo jobs a page lists.
const mostPhotos = 400

// Photos returns a project's photos that wait, are at work, or could not be
// measured, the oldest first; and those of some numbers whatever became of them.
func (s *Store) Photos(ctx context.Context, project uint64, ids []uint64) (list []Job, err error) {
	q := s.with(ctx).Where("project_id = ? AND kind = ?", project, PhotoJob)
	if ids == nil {
		q = q.Where("state IN ?", []JobState{Queued, Running, Failed})
	} else {
		q = q.Where("id IN ?", ids)
	}
	err = q.Order("id").Limit(mostPhotos).Find(&list).Error
	return list, err
}

// NamesOf returns the students' names of some check-ins in the teacher's projects.
func (s *Store) NamesOf(ctx context.Context, teacher uint64, checkIns []uint64) (map[uint64]string, error) {
	names := map[uint64]string{}
	if len(checkIns) == 0 {
		return names, nil
	}
	var rows []struct {
		ID   uint64
		Name string
	}
	err := s.with(ctx).Raw(`SELECT check_ins.id, students.name FROM check_ins JOIN students ON students.id = check_ins.student_id
		JOIN projects ON projects.id = check_ins.project_id WHERE projects.teacher_id = ? AND check_ins.id IN ?`, teacher, checkIns).Scan(&rows).Error
	for _, r := range rows {
		names[r.ID] = r.Name
	}
	return names, err
}

// Job returns a job of one of the teacher's projects.
func (s *Store) Job(ctx context.Context, teacher, id uint64) (Job, error) {
	var j Job
	err := s.with(ctx).Joins("JOIN projects ON projects.id = jobs.project_id").
		Where("projects.teacher_id = ?", teacher).First(&j, "jobs.id = ?", id).Error
	return j, known(err)
}

// CancelJob ends a job of one of the teacher's projects that has not ended yet;
// a photo is thrown away with it, also one that could not be measured.
func (s *Store) CancelJob(ctx context.Context, teacher, id uint64) error {
	j, err := s.Job(ctx, teacher, id)
	if err != nil {
		return err
	}
	if j.Kind == PhotoJob {
		return s.with(ctx).Delete(&Job{}, "id = ? AND state <> ?", id, Done).Error
	}
	return s.with(ctx).Model(&Job{}).Where("id = ? AND state IN ?", id, []JobState{Queued, Running}).
		Updates(map[string]any{"state": Cancelled, "message": "Cancelled."}).Error
}

// abandoned is how long a job's maker may be silent before another takes it.
const abandoned = 20 * time.Second

// mostStumbles is how often a job's maker stumbles before it fails, and mostTries how often
// it is taken at most, should machines die around it: one that takes its
// maker down each time must not do so for ever.
const mostStumbles, mostTries = 3, 20

// longestMessage bounds a job's message, in letters.
const longestMessage = 1000

// TakeJob takes the job whose turn it is: it waits, or its maker has fallen silent,
// or says to have been alive in time to come. Those that nobody stumbled over come first,
// of them urgent ones, then the oldest; ok is false where there is none. No two takers get
// the same one, and one that was stumbled over three times fails.
func (s *Store) TakeJob(ctx context.Context) (j Job, ok bool, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		now := time.Now().UTC()
		var found []Job
		q := tx.Clauses(clause.Locking{Strength: "UPDATE", Options: "SKIP LOCKED"}).
			Where("state = ? OR state = ? AND beat_at NOT BETWEEN ? AND ?", Queued, Running, now.Add(-abandoned), now.Add(abandoned)).Order("stumbles, urgent DESC, id").Limit(1)
		if err := q.Find(&found).Error; err != nil {
			return err
		}
		if ok = len(found) > 0; !ok {
			return nil
		}
		j = found[0]
		if j.Stumbles >= mostStumbles || j.Tries >= mostTries {
			ok = false
			return end(tx, j, Failed, fmt.Sprintf("It was tried %d times and did not come through. %s", j.Tries, j.Message))
		}
		j.State, j.BeatAt, j.Done, j.Tries, j.Holder = Running, &now, 0, j.Tries+1, s.holder
		if err := tx.Model(&Job{ID: j.ID}).Select("State", "BeatAt", "Done", "Tries", "Holder").Updates(j).Error; err != nil {
			return err
		}
		return moved(tx, j)
	})
	return j, ok, err
}

// moved tells pages that look at a photo's job.
func moved(tx *gorm.DB, j Job) error {
	if j.Kind != PhotoJob {
		return nil
	}
	return tx.Create(&Change{ProjectID: j.ProjectID, JobID: j.ID}).Error
}

// end ends a job, or lets it wait again; one that was cancelled meanwhile
// stays so, and nothing is said of it.
func end(tx *gorm.DB, j Job, state JobState, message string) error {
	res := tx.Model(&Job{}).Where("id = ? AND state IN ?", j.ID, []JobState{Queued, Running}).Updates(map[string]any{"state": state, "message": letters.Cut(message, longestMessage)})
	if res.Error != nil || res.RowsAffected == 0 {
		return res.Error
	}
	if state == Failed && j.Kind == PhotoJob { // it is of no more use, and may show somebody
		if err := tx.Delete(&JobFile{}, j.ID).Error; err != nil {
			return err
		}
	}
	return moved(tx, j)
}

// Alive says that a running job's maker lives; going is false once it was cancelled.
func (s *Store) Alive(ctx context.Context, id uint64) (going bool, err error) {
	res := s.with(ctx).Model(&Job{}).Where("id = ? AND state = ?", id, Running).Update("beat_at", time.Now().UTC())
	return res.RowsAffected > 0, res.Error
}

// Progress says how far a running job is, and that its maker lives; going is
// false once the job was cancelled.
func (s *Store) Progress(ctx context.Context, id uint64, done, total int) (going bool, err error) {
	now := time.Now().UTC()
	res := s.with(ctx).Model(&Job{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"done": done, "total": total, "beat_at": now})
	return res.RowsAffected > 0, res.Error
}

// FinishSet keeps a running set's file and ends it; one that was cancelled
// meanwhile keeps no file.
func (s *Store) FinishSet(ctx context.Context, id uint64, file []byte, message string) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		res := tx.Model(&Job{}).Where("id = ? AND state = ?", id, Running).Updates(map[string]any{"state": Done, "message": letters.Cut(message, longestMessage)})
		if res.Error != nil || res.RowsAffected == 0 {
			return res.Error
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&JobFile{id, file}).Error
	})
}

// PhotoOf returns the photo that a job was given.
func (s *Store) PhotoOf(ctx context.Context, job uint64) ([]byte, error) {
	var f JobFile
	err := s.with(ctx).First(&f, job).Error
	return f.Bytes, known(err)
}

// FinishPhoto ends a running photo's job with what came of it and forgets the
// file as it was sent. It belongs into one change with what is kept of the photo;
// the error is ErrConflict where the job was cancelled meanwhile.
func (s *Store) FinishPhoto(ctx context.Context, j Job, result []JobLine) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		res := tx.Model(&Job{}).Where("id = ? AND state = ?", j.ID, Running).Select("State", "Result").Updates(Job{State: Done, Result: result})
		if res.Error == nil && res.RowsAffected == 0 {
			return ErrConflict
		}
		if res.Error != nil {
			return res.Error
		}
		if err := tx.Delete(&JobFile{}, j.ID).Error; err != nil {
			return err
		}
		return moved(tx, j)
	})
}

// FailJob ends a job with the reason.
func (s *Store) FailJob(ctx context.Context, j Job, why string) error {
	return s.Transaction(ctx, func(s *Store) error { return end(s.with(ctx), j, Failed, why) })
}

// Going reports whether a job is running still, and was not cancelled.
func (s *Store) Going(ctx context.Context, id uint64) (going bool, err error) {
	err = s.with(ctx).Model(&Job{}).Select("COUNT(*) > 0").Where("id = ? AND state = ?", id, Running).Scan(&going).Error
	return going, err
}

// HeldBy names this copy of the program among others, to take jobs in its name. It is to be
// called once, before the store is in use.
func (s *Store) HeldBy(name string) { s.holder = name }

// Died lets the jobs of a worker that died wait again, behind others.
func (s *Store) Died(ctx context.Context, holder string) error {
	return s.with(ctx).Model(&Job{}).Where("state = ? AND holder = ?", Running, holder).
		Updates(map[string]any{"state": Queued, "stumbles": gorm.Expr("stumbles + 1"), "message": "The worker ended at it."}).Error
}

// RequeueJob lets a running job wait again behind others, with the reason.
func (s *Store) RequeueJob(ctx context.Context, j Job, why string) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		if err := tx.Model(&Job{}).Where("id = ?", j.ID).UpdateColumn("stumbles", gorm.Expr("stumbles + 1")).Error; err != nil {
			return err
		}
		return end(tx, j, Queued, why)
	})
}

// SweepJobs forgets jobs that were made before a moment, with their files.
func (s *Store) SweepJobs(ctx context.Context, before time.Time) error {
	return s.with(ctx).Where("created_at < ? AND state NOT IN ?", before, []JobState{Queued, Running}).Delete(&Job{}).Error
}

// Waiting returns how many jobs wait or are at work.
func (s *Store) Waiting(ctx context.Context) (n int64, err error) {
	err = s.with(ctx).Model(&Job{}).Where("state IN ?", []JobState{Queued, Running}).Count(&n).Error
	return n, err
}

// bell rings where a job was queued in this copy of the program, so that its
// worker need not wait until it looks again.
type bell chan struct{}

func (b bell) ring() {
	select {
	case b <- struct{}{}:
	default: // it rings already
	}
}

// Bell returns the bell that rings when a job was queued here.
func (s *Store) Bell() <-chan struct{} { return s.bell }

// leases makes their table, which is there before all others: bringing those up to
// date is such a thing.
const leases = "CREATE TABLE IF NOT EXISTS leases (name VARCHAR(60) NOT NULL PRIMARY KEY, holder VARCHAR(60) NOT NULL, until DATETIME(3) NOT NULL)"

// lease is who does something, and until when nobody else does.
type lease struct {
	Name   string `gorm:"primaryKey"`
	Holder string
	Until  time.Time
}

// Lease takes what a name stands for, for so long, or holds on to it; false where
// another copy has it. It ends by itself where its holder dies.
func (s *Store) Lease(ctx context.Context, name string, long time.Duration) (mine bool, err error) {
	err = s.Transaction(ctx, func(s *Store) (err error) {
		tx := s.with(ctx)
		mine, err = s.takeLease(tx, name, long)
		return err
	})
	return mine, err
}

// takeLease is Lease within a change. The clock is the database's: copies may differ.
func (s *Store) takeLease(tx *gorm.DB, name string, long time.Duration) (bool, error) {
	// One that lasts much longer than anybody asks for was taken by a clock that was ahead.
	// A little longer is none: a statement's time is when it began, and it may have waited for
	// the row while another that began later took it, for as long as the database lets it.
	err := tx.Exec(`INSERT INTO leases (name, holder, until) VALUES (?, ?, UTC_TIMESTAMP(3) + INTERVAL ? MICROSECOND) ON DUPLICATE KEY UPDATE
		holder = IF(until BETWEEN UTC_TIMESTAMP(3) AND VALUES(until) + INTERVAL 1 MINUTE, holder, VALUES(holder)),
		until = IF(holder = VALUES(holder), VALUES(until), until)`, name, s.holder, long.Microseconds()).Error
	if err != nil {
		return false, err
	}
	var l lease
	err = tx.First(&l, "name = ?", name).Error
	return l.Holder == s.holder, err
}

// Release lets go of what Lease took, early.
func (s *Store) Release(ctx context.Context, name string) error {
	return s.with(ctx).Exec("DELETE FROM leases WHERE name = ? AND holder = ?", name, s.holder).Error
}

// alone does something that one copy at a time may do, waiting for others at it for
// at most so long; it holds on while it works.
func (s *Store) alone(ctx context.Context, name string, patience time.Duration, do func() error) error {
	const hold = 15 * time.Second
	for until := time.Now().Add(patience); ; {
		mine, err := s.Lease(ctx, name, hold)
		if err != nil {
			return err
		}
		if mine {
			break
		}
		if time.Now().After(until) {
			return fmt.Errorf("another copy has been at it for %v; wait for it to end, then start again", patience)
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(100 * time.Millisecond):
		}
	}
	holding, stop := context.WithCancel(ctx)
	var ended sync.WaitGroup
	ended.Go(func() {
		for {
			select {
			case <-holding.Done():
				return
			case <-time.After(hold / 3):
			}
			s.Lease(holding, name, hold) // one that fails now is tried again before the lease ends
		}
	})
	err := do()
	stop()
	ended.Wait()
	return errors.Join(err, s.Release(context.WithoutCancel(ctx), name))
}
