package store

import "context"

// Overview is all that a teacher's first page shows, of every project at once.
type Overview struct {
	Projects []Project            // the newest first
	Students map[uint64][]Student // by class, in order
	Given    map[uint64]map[uint64]Assignment
	Ticked   map[uint64]map[uint64]int // boxes ticked, by project and student
	Waiting  map[uint64]int            // photos that wait for corners or a name, by project
}

// Overview returns a teacher's overview in five statements, whatever their number of projects.
func (s *Store) Overview(ctx context.Context, teacher uint64) (o Overview, err error) {
	o = Overview{Students: map[uint64][]Student{}, Given: map[uint64]map[uint64]Assignment{}, Ticked: map[uint64]map[uint64]int{}, Waiting: map[uint64]int{}}
	if o.Projects, err = s.Projects(ctx, teacher); err != nil || len(o.Projects) == 0 {
		return o, err
	}
	var students []Student
	err = present(s.with(ctx).Joins("JOIN classes ON classes.id = students.class_id").Where("classes.teacher_id = ?", teacher)).Find(&students).Error
	if err != nil {
		return o, err
	}
	for _, one := range students {
		o.Students[one.ClassID] = append(o.Students[one.ClassID], one)
	}
	var given []Assignment
	err = s.with(ctx).Joins("Picture").Joins("Frame").Joins("JOIN projects ON projects.id = assignments.project_id").
		Where("projects.teacher_id = ?", teacher).Find(&given).Error
	if err != nil {
		return o, err
	}
	for _, a := range given {
		put(o.Given, a.ProjectID, a.StudentID, a)
	}
	var ticked []struct {
		ProjectID, StudentID uint64
		N                    int
	}
	err = s.with(ctx).Model(&Tick{}).Select("ticks.project_id, ticks.student_id, COUNT(*) AS n").Joins("JOIN projects ON projects.id = ticks.project_id").
		Where("projects.teacher_id = ?", teacher).Group("ticks.project_id, ticks.student_id").Find(&ticked).Error
	if err != nil {
		return o, err
	}
	for _, t := range ticked {
		put(o.Ticked, t.ProjectID, t.StudentID, t.N)
	}
	o.Waiting, err = s.waiting(ctx, teacher)
	return o, err
}

func put[V any](into map[uint64]map[uint64]V, a, b uint64, v V) {
	if into[a] == nil {
		into[a] = map[uint64]V{}
	}
	into[a][b] = v
}

// waiting returns how many photos of each project wait: for their corners, or
// to be told whose they are.
func (s *Store) waiting(ctx context.Context, teacher uint64) (map[uint64]int, error) {
	var rows []struct {
		ProjectID uint64
		N         int
	}
	err := s.with(ctx).Raw(`SELECT project_id, COUNT(*) AS n FROM (
		SELECT project_id FROM check_ins WHERE corners IS NULL
		UNION ALL SELECT project_id FROM strays) AS waiting
		JOIN projects ON projects.id = project_id WHERE projects.teacher_id = ? GROUP BY project_id`, teacher).Scan(&rows).Error
	by := map[uint64]int{}
	for _, r := range rows {
		by[r.ProjectID] = r.N
	}
	return by, err
}
