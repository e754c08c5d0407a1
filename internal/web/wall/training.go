package wall

import (
	"net/http"
	"slices"
	"strconv"

	"github.com/xuri/excelize/v2"

	"zestysketch/internal/core/training"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

var trainingHead = []string{"Student", "Exercise", "When", "Trials", "Unit", "Misses by", "from", "to", "Bias", "from", "to"}

// trainingRows are the exercises of a class as a table, the earliest first; those of students
// who are no longer of the class are left out.
func (t table) trainingRows() (rows [][]string) {
	rows = [][]string{trainingHead}
	for _, one := range slices.Backward(t.learnt.Trained) {
		i := slices.IndexFunc(t.Students, func(s store.Student) bool { return s.ID == one.StudentID })
		about, known := training.Named(one.Kind)
		if i < 0 || !known {
			continue
		}
		row := []string{t.Students[i].Name, about.Name, t.Clock.Date(one.DoneAt), strconv.Itoa(one.Result.Trials), about.In}
		row = append(row, figures(one.Result.Miss())...)
		if one.Result.Wrong == nil {
			row = append(row, figures(one.Result.Bias)...)
		}
		rows = append(rows, row)
	}
	return rows
}

func figures(e training.Estimate) (cells []string) {
	for _, v := range []float64{e.Value, e.Low, e.High} {
		cells = append(cells, strconv.FormatFloat(v, 'f', 2, 64))
	}
	return cells
}

// trainingCSV answers with the class's exercises as CSV.
func (a area) trainingCSV(w http.ResponseWriter, r *http.Request, work table) error {
	return kit.SendCSV(w, work.Project.Name+" eye training", work.trainingRows())
}

// fill writes a table into a sheet of a workbook, numbers as numbers; what is a string is
// never read as a formula.
func fill(book *excelize.File, sheet string, rows [][]string) error {
	for y, row := range rows {
		for x, cell := range row {
			name, err := excelize.CoordinatesToCellName(x+1, y+1)
			if err != nil {
				return err
			}
			var value any = cell
			if n, err := strconv.ParseFloat(cell, 64); err == nil && x > 0 && y > 0 {
				value = n
			}
			if err := book.SetCellValue(sheet, name, value); err != nil {
				return err
			}
		}
	}
	return nil
}
