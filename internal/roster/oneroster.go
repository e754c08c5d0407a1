package roster

import (
	"archive/zip"
	"encoding/csv"
	"fmt"
	"io"
	"path"
	"strings"
)

// most bytes of one file in an archive, unpacked.
const mostBytes = 32 << 20

// oneRoster reads OneRoster 1.1 CSV (IMS Global): users.csv, with classes.csv
// and enrollments.csv for who is in which class.
func oneRoster(z *zip.Reader) (List, error) {
	users, err := tableOf(z, "users.csv")
	if err != nil {
		return List{}, err
	}
	if users == nil {
		return List{}, fmt.Errorf("%w: wanted users.csv in the archive", ErrList)
	}
	classes, err := tableOf(z, "classes.csv")
	if err != nil {
		return List{}, err
	}
	enrolled, err := tableOf(z, "enrollments.csv")
	if err != nil {
		return List{}, err
	}
	titles := map[string]string{}
	for _, row := range classes {
		titles[row["sourcedid"]] = row["title"]
	}
	classOf := map[string]string{}
	for _, row := range enrolled {
		if strings.EqualFold(row["role"], "student") && !strings.EqualFold(row["status"], "tobedeleted") && classOf[row["usersourcedid"]] == "" {
			classOf[row["usersourcedid"]] = titles[row["classsourcedid"]]
		}
	}
	list := List{Kind: "OneRoster 1.1"}
	heads := map[string]int{"given": 0, "family": 1, "id": 2, "role": 3, "status": 4, "class": 5}
	for i, u := range users {
		list.read([]string{u["givenname"], u["familyname"], u["sourcedid"], u["role"], u["status"], classOf[u["sourcedid"]]}, heads, i+2)
	}
	list.shorten()
	if len(list.Entries) == 0 {
		return list, fmt.Errorf("%w: no student was found among %d users", ErrList, len(users))
	}
	return list, nil
}

// tableOf returns a file's rows by the names of their columns, in small
// letters; nil where the archive has no such file.
func tableOf(z *zip.Reader, name string) ([]map[string]string, error) {
	for _, f := range z.File {
		if !strings.EqualFold(path.Base(f.Name), name) {
			continue
		}
		rc, err := f.Open()
		if err != nil {
			return nil, fmt.Errorf("%w: %s is damaged", ErrList, name)
		}
		defer rc.Close()
		b, err := io.ReadAll(io.LimitReader(rc, mostBytes+1))
		if err != nil || len(b) > mostBytes {
			return nil, fmt.Errorf("%w: %s is damaged, or too large", ErrList, name)
		}
		text, err := decode(b)
		if err != nil {
			return nil, err
		}
		r := csv.NewReader(strings.NewReader(text))
		r.FieldsPerRecord, r.LazyQuotes = -1, true
		rows, err := r.ReadAll()
		if err != nil || len(rows) == 0 || len(rows) > MostRows {
			return nil, fmt.Errorf("%w: %s cannot be read, or has more than %d rows", ErrList, name, MostRows)
		}
		var out []map[string]string
		for _, row := range rows[1:] {
			one := map[string]string{}
			for i, head := range rows[0] {
				if i < len(row) {
					one[strings.ToLower(clean(head))] = clean(row[i])
				}
			}
			out = append(out, one)
		}
		return out, nil
	}
	return nil, nil
}
