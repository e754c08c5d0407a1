package archive

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"zestysketch/internal/plans"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
)

// Write writes a project that the caller has fetched. Its pictures pass one by one.
func Write(ctx context.Context, s *store.Store, p store.Project, out io.Writer) error {
	a, pictures, err := describe(ctx, s, p)
	if err != nil {
		return err
	}
	z := zip.NewWriter(out)
	if err := writeJSON(z, aboutFile, a); err != nil {
		return err
	}
	if p.PlanVersion > 0 {
		if err := writePlan(ctx, s, p, z); err != nil {
			return err
		}
	}
	for i, pic := range pictures {
		f, err := s.PictureFile(ctx, p.TeacherID, pic.ID, store.Full)
		if err != nil {
			return err
		}
		// A picture is packed already.
		w, err := z.CreateHeader(&zip.FileHeader{Name: a.Pictures[i].File, Method: zip.Store})
		if err != nil {
			return err
		}
		if _, err := w.Write(f.Bytes); err != nil {
			return err
		}
	}
	return z.Close()
}

// writePlan writes the present plan as zesty-plan/1.
func writePlan(ctx context.Context, s *store.Store, p store.Project, z *zip.Writer) error {
	plan, err := plans.Needed(ctx, s, p)
	if err != nil {
		return err
	}
	return writeJSON(z, planFile, plan)
}

func writeJSON(z *zip.Writer, name string, v any) error {
	w, err := z.Create(name)
	if err != nil {
		return err
	}
	e := json.NewEncoder(w)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

// describe returns what project.json says, and the pictures in its order.
func describe(ctx context.Context, s *store.Store, p store.Project) (a about, pictures []store.Picture, err error) {
	a = about{Format: Format, Name: p.Name, Looseness: p.Looseness, Compare: p.Compare, Free: p.FreeBoxes, Road: p.Road, Pictures: []pictured{}}
	if pictures, err = s.ProjectPictures(ctx, p.ID); err != nil {
		return a, nil, err
	}
	frames, err := s.Frames(ctx, p.ID)
	if err != nil {
		return a, nil, err
	}
	for i, pic := range pictures {
		one := pictured{File: fmt.Sprintf("pictures/%d", i+1), Name: pic.Name, Tags: pic.Tags, Difficulty: pic.Difficulty, Main: p.PictureID != nil && *p.PictureID == pic.ID}
		for _, f := range frames {
			if f.PictureID == pic.ID {
				one.Frames = append(one.Frames, framed{f.Name, f.Frame})
			}
		}
		marks, err := s.Landmarks(ctx, p.ID, &pic.ID)
		if err != nil {
			return a, nil, err
		}
		for _, l := range marks {
			one.Landmarks = append(one.Landmarks, landmark{l.Name, l.Weight, l.Class, l.X, l.Y})
		}
		a.Pictures = append(a.Pictures, one)
	}
	sets, err := s.PrintSets(ctx, p.TeacherID)
	if err != nil {
		return a, nil, err
	}
	for _, set := range sets[:min(len(sets), mostSets)] {
		spec, err := press.Parse(set.Spec)
		if err == nil {
			_, err = spec.Check()
		}
		if err != nil {
			continue // one that nothing can be printed by helps nobody
		}
		a.PrintSets = append(a.PrintSets, printSet{strings.TrimSpace(set.Name), general(spec)})
	}
	return a, pictures, nil
}

// general returns a choice without what is of one school alone: its printer, its
// students, its address.
func general(spec press.Spec) press.Spec {
	spec.Printer, spec.Students, spec.Base, spec.Class = 0, nil, "", 0
	return spec
}
