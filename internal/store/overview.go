package store

import (
	"context"
	"slices"
	"time"
)

// Overview is all that a teacher's first page shows of the projects that are at work.
type Overview struct {
	Projects []Project            // at work, the newest first, as their first class sees them
	Rest     []Project            // the others in use: what they are called, and when they were at work
	Classes  map[uint64][]Class   // that draw a project, by project, the first one first
	Students map[uint64][]Student // by class, in order
	Given    map[uint64]map[uint64]Assignment
	Ticked   map[uint64]map[uint64]int // boxes ticked, by project and student
	Waiting  map[uint64]map[uint64]int // photos that wait for corners or a name, by project and class, 0 where nobody knows whose they are
}

// A project is at work where it was so within two months, holidays among them; the
// newest few always are, and more than most never.
const (
	stillAtWork             = 60 * 24 * time.Hour
	fewCurrent, mostCurrent = 6, 24
)

// Overview returns a teacher's overview, in as many statements whatever their number of projects.
func (s *Store) Overview(ctx context.Context, teacher uint64, now time.Time) (o Overview, err error) {
	o = Overview{Classes: map[uint64][]Class{}, Students: map[uint64][]Student{}, Given: map[uint64]map[uint64]Assignment{}, Ticked: map[uint64]map[uint64]int{}, Waiting: map[uint64]map[uint64]int{}}
	var all []Project
	err = s.with(ctx).Select("id", "name", "picture_id", "class_id", "updated_at").Where("teacher_id = ? AND "+inUse, teacher).
		Order("updated_at DESC, id DESC").Find(&all).Error
	if err != nil || len(all) == 0 {
		return o, err
	}
	n := slices.IndexFunc(all, func(p Project) bool { return now.Sub(p.UpdatedAt) > stillAtWork })
	if n < 0 {
		n = len(all)
	}
	n = min(max(n, fewCurrent), mostCurrent, len(all))
	var ids []uint64
	for _, p := range all[:n] {
		ids = append(ids, p.ID)
	}
	o.Rest = all[n:]
	if err := s.projects(ctx).Where("projects.id IN ?", ids).Order("projects.updated_at DESC, projects.id DESC").Find(&o.Projects).Error; err != nil {
		return o, err
	}
	if err := s.whoDraws(ctx, &o, ids); err != nil {
		return o, err
	}
	return o, s.whatIsDone(ctx, &o, ids)
}

// whoDraws fills in the classes of projects, with their students and what those were given.
func (s *Store) whoDraws(ctx context.Context, o *Overview, ids []uint64) error {
	classes, drawing := map[uint64]Class{}, []ProjectClass{}
	for _, p := range o.Projects {
		if p.Class != nil {
			classes[p.Class.ID] = *p.Class
		}
	}
	if err := s.with(ctx).Where("project_id IN ?", ids).Order("class_id").Find(&drawing).Error; err != nil {
		return err
	}
	var more []uint64
	for _, d := range drawing {
		if _, there := classes[d.ClassID]; !there {
			more = append(more, d.ClassID)
		}
	}
	if len(more) > 0 {
		var list []Class
		if err := s.with(ctx).Joins("Calendar").Where("classes.id IN ?", more).Find(&list).Error; err != nil {
			return err
		}
		for _, c := range list {
			c.noCalendar()
			classes[c.ID] = c
		}
	}
	o.classesOf(classes, drawing)
	var students []Student
	if err := present(s.with(ctx).Where("class_id IN (SELECT class_id FROM project_classes WHERE project_id IN ?)", ids)).Find(&students).Error; err != nil {
		return err
	}
	for _, one := range students {
		o.Students[one.ClassID] = append(o.Students[one.ClassID], one)
	}
	var given []Assignment
	err := s.with(ctx).Joins("Picture").Joins("Frame").Where("assignments.project_id IN ?", ids).Find(&given).Error
	for _, a := range given {
		put(o.Given, a.ProjectID, a.StudentID, a)
	}
	return err
}

// classesOf puts the classes to their projects: the first one first, of the others
// those that were not put away.
func (o *Overview) classesOf(classes map[uint64]Class, drawing []ProjectClass) {
	for _, p := range o.Projects {
		if p.Class != nil {
			o.Classes[p.ID] = append(o.Classes[p.ID], *p.Class)
		}
		for _, d := range drawing {
			c, there := classes[d.ClassID]
			if d.ProjectID == p.ID && there && c.PutAwayAt == nil && (p.ClassID == nil || *p.ClassID != c.ID) {
				o.Classes[p.ID] = append(o.Classes[p.ID], c)
			}
		}
	}
}

// whatIsDone fills in how far students are, and which photos wait: for their
// corners, or to be told whose they are.
func (s *Store) whatIsDone(ctx context.Context, o *Overview, ids []uint64) error {
	var ticked []struct {
		ProjectID, StudentID uint64
		N                    int
	}
	err := s.with(ctx).Model(&Tick{}).Select("project_id, student_id, COUNT(*) AS n").Where("project_id IN ?", ids).Group("project_id, student_id").Find(&ticked).Error
	if err != nil {
		return err
	}
	for _, t := range ticked {
		put(o.Ticked, t.ProjectID, t.StudentID, t.N)
	}
	var waiting []struct {
		ProjectID, ClassID uint64
		N                  int
	}
	err = s.with(ctx).Raw(`SELECT project_id, class_id, COUNT(*) AS n FROM (
		SELECT check_ins.project_id, students.class_id FROM check_ins JOIN students ON students.id = check_ins.student_id WHERE corners IS NULL AND project_id IN ?
		UNION ALL SELECT project_id, 0 FROM strays WHERE project_id IN ?) AS waiting GROUP BY project_id, class_id`, ids, ids).Scan(&waiting).Error
	for _, w := range waiting {
		put(o.Waiting, w.ProjectID, w.ClassID, w.N)
	}
	return err
}
