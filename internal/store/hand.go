package store

import (
	"context"
	"slices"
	"time"

	"gorm.io/gorm"
)

// ofPictures are the tables that name a picture of a project.
var ofPictures = []string{"project_pictures", "frames", "assignments", "landmarks", "check_ins", "strays", "notes", "views"}

// handing is what goes from one teacher to another.
type handing struct {
	tx                *gorm.DB
	from, to          uint64
	classes, projects []uint64
}

// HandOn gives a class of one teacher to another of the same school, with the
// projects that it draws, their plans, work and pictures, and with the classes that
// draw the same projects; class 0 is everything that they have. Links and feeds go
// on as they are. A picture that the giver's other projects use is doubled.
func (s *Store) HandOn(ctx context.Context, school, from, to, class uint64) error {
	return s.Transaction(ctx, func(s *Store) error {
		tx := s.with(ctx)
		var both int64
		if err := tx.Model(&Teacher{}).Where("school_id = ? AND id IN (?, ?) AND (id <> ? OR disabled_at IS NULL)", school, from, to, to).Count(&both).Error; err != nil {
			return err
		}
		if both != 2 {
			return ErrNotFound
		}
		h := handing{tx: tx, from: from, to: to}
		if class == 0 {
			return h.everything()
		}
		if err := tx.Where("teacher_id = ?", from).First(&Class{}, class).Error; err != nil {
			return err
		}
		if err := h.reach(class); err != nil {
			return err
		}
		if err := h.pictures(); err != nil {
			return err
		}
		return h.move(tx.Model(&Class{}).Where("id IN ?", h.classes), tx.Model(&Project{}).Where("id IN ?", h.projects))
	})
}

// everything moves all that the giver has.
func (h handing) everything() error {
	of := func(model any) *gorm.DB { return h.tx.Model(model).Where("teacher_id = ?", h.from) }
	return h.move(of(&Picture{}), of(&Class{}), of(&Project{}))
}

// move gives rows to the taker, and ends what was shared with them of it, and the feeds whose
// addresses the giver has.
func (h handing) move(all ...*gorm.DB) error {
	feeds := "UPDATE calendars JOIN classes ON classes.id = calendars.class_id SET calendars.feed_hash = UNHEX(SHA2(RANDOM_BYTES(32), 256)) WHERE classes.teacher_id = ?"
	args := []any{h.from}
	if h.projects != nil {
		feeds, args = feeds+" AND classes.id IN ?", append(args, append(h.classes, 0))
	}
	if err := h.tx.Exec(feeds, args...).Error; err != nil {
		return err
	}
	for _, one := range all {
		if err := one.UpdateColumn("teacher_id", h.to).Error; err != nil {
			return err
		}
	}
	own := func(model any) *gorm.DB { return h.tx.Model(model).Select("id").Where("teacher_id = ?", h.to) }
	return h.tx.Where("teacher_id = ? AND (project_id IN (?) OR class_id IN (?))", h.to, own(&Project{}), own(&Class{})).Delete(&Share{}).Error
}

// reach finds the projects that a class draws, the classes that draw those, and so on.
func (h *handing) reach(class uint64) error {
	h.classes = []uint64{class}
	for {
		if err := h.tx.Model(&ProjectClass{}).Distinct().Where("class_id IN ?", h.classes).Pluck("project_id", &h.projects).Error; err != nil {
			return err
		}
		more := []uint64{class}
		if len(h.projects) > 0 {
			if err := h.tx.Model(&ProjectClass{}).Distinct().Where("project_id IN ?", h.projects).Pluck("class_id", &more).Error; err != nil {
				return err
			}
		}
		if len(more) <= len(h.classes) {
			h.projects = append(h.projects, 0) // IN needs one
			return nil
		}
		h.classes = more
	}
}

// pictures gives the taker every picture of the projects.
func (h handing) pictures() error {
	used := "SELECT picture_id FROM projects WHERE id IN @projects AND picture_id IS NOT NULL"
	elsewhere := "SELECT picture_id FROM projects WHERE id NOT IN @projects AND picture_id IS NOT NULL"
	for _, t := range ofPictures {
		used += " UNION SELECT picture_id FROM " + t + " WHERE project_id IN @projects AND picture_id IS NOT NULL"
		elsewhere += " UNION SELECT picture_id FROM " + t + " WHERE project_id NOT IN @projects AND picture_id IS NOT NULL"
	}
	var ids, kept []uint64
	named := map[string]any{"projects": h.projects}
	if err := h.tx.Raw("SELECT picture_id FROM ("+used+") AS used", named).Scan(&ids).Error; err != nil {
		return err
	}
	named["ids"] = append(ids, 0)
	if err := h.tx.Raw("SELECT DISTINCT picture_id FROM ("+elsewhere+") AS elsewhere WHERE picture_id IN @ids", named).Scan(&kept).Error; err != nil {
		return err
	}
	for _, id := range kept {
		if err := h.double(id); err != nil {
			return err
		}
	}
	goes := slices.DeleteFunc(ids, func(id uint64) bool { return slices.Contains(kept, id) })
	return h.tx.Model(&Picture{}).Where("id IN ? AND teacher_id = ?", append(goes, 0), h.from).UpdateColumn("teacher_id", h.to).Error
}

// double makes the taker a picture like one, for the projects that go.
func (h handing) double(id uint64) error {
	var p Picture
	if err := h.tx.First(&p, id).Error; err != nil {
		return err
	}
	p.ID, p.TeacherID, p.CreatedAt = 0, h.to, time.Time{}
	if err := h.tx.Create(&p).Error; err != nil {
		return err
	}
	if err := h.tx.Exec("INSERT INTO picture_files (picture_id, role, kind, bytes) SELECT ?, role, kind, bytes FROM picture_files WHERE picture_id = ?", p.ID, id).Error; err != nil {
		return err
	}
	for _, t := range ofPictures {
		if err := h.tx.Exec("UPDATE "+t+" SET picture_id = ? WHERE picture_id = ? AND project_id IN ?", p.ID, id, h.projects).Error; err != nil {
			return err
		}
	}
	return h.tx.Model(&Project{}).Where("picture_id = ? AND id IN ?", id, h.projects).UpdateColumn("picture_id", p.ID).Error
}

// GiveCopy makes a colleague a project like one of the teacher's, with pictures of
// their own, for no class: nobody's work is in it. It returns the new one's number;
// ErrNotFound where the colleague is not of the teacher's school.
func (s *Store) GiveCopy(ctx context.Context, teacher, id, to uint64) (copied uint64, err error) {
	err = s.Transaction(ctx, func(s *Store) error {
		giver, err := s.Teacher(ctx, teacher)
		if err != nil {
			return err
		}
		mate, err := s.Colleague(ctx, giver.SchoolID, to)
		if err != nil {
			return err
		}
		if mate.ID == teacher || mate.DisabledAt != nil {
			return ErrNotFound
		}
		if copied, err = s.CopyProject(ctx, teacher, id, false); err != nil {
			return err
		}
		h := handing{tx: s.with(ctx), from: teacher, to: to, projects: []uint64{copied}}
		if err := h.pictures(); err != nil {
			return err
		}
		return h.move(h.tx.Model(&Project{}).Where("id = ?", copied))
	})
	return copied, err
}
