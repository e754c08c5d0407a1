package grid

import (
	"reflect"
	"testing"
)

// Whatever is typed into any two fields of the form, it is a plan whose file
// comes back as it was, or Problems that name fields of the form.
func FuzzRequest(f *testing.F) {
	fields := len((&Request{}).Fields())
	f.Add(uint8(2), "8 x 9 1/2 in", uint8(3), "12 x 18 in", 1200, 900)
	f.Add(uint8(10), "25x40", uint8(18), "2x1", 0, 0)
	f.Add(uint8(15), "500,400 300x200 12 mirror", uint8(14), "B2 4, C3 2", 4000, 3000)
	f.Add(uint8(5), "1/2 in up", uint8(9), "150%", 17, 100_000)
	f.Fuzz(func(t *testing.T, one uint8, text string, other uint8, more string, w, h int) {
		r := Request{Reference: "7in", Paper: "12x18in", Picture: [2]int{max(0, min(w, 200_000)), max(0, min(h, 200_000))}}
		if r.Picture[0] == 0 || r.Picture[1] == 0 {
			r.Picture, r.Reference = [2]int{}, "7x9in"
		}
		all := r.Fields()
		*all[int(one)%fields].Value, *all[int(other)%fields].Value = text, more
		p, err := Make(r)
		if err != nil {
			known := map[string]bool{}
			for _, field := range r.Fields() {
				known[field.Name] = true
			}
			for _, problem := range ProblemsOf(err) {
				if !known[problem.Field] || problem.Message == "" {
					t.Errorf("%+v: a problem at %q: %q", r, problem.Field, problem.Message)
				}
			}
			if ProblemsOf(err) == nil {
				t.Errorf("%+v: %v; want Problems", r, err)
			}
			return
		}
		file, err := Encode(p)
		if err != nil {
			t.Fatal(err)
		}
		if back, err := Decode(file); err != nil || !reflect.DeepEqual(back, p) {
			t.Errorf("%+v: its file comes back as %+v, %v", r, back, err)
		}
	})
}
