package reckoner

import (
	"net/url"
	"testing"
)

// Whatever stands in an address, a sum answers it or says at which field not.
func FuzzSums(f *testing.F) {
	for i, s := range sums {
		for j := range s.Fields {
			f.Add(uint8(i), uint8(j), s.Fields[j].Usual, uint8(0), "0", "in")
			f.Add(uint8(i), uint8(j), "1e308", uint8(j+1), "-7", "cm")
		}
	}
	f.Fuzz(func(t *testing.T, which, one uint8, text string, other uint8, more, unit string) {
		s := sums[int(which)%len(sums)]
		query := url.Values{}
		query.Set(s.Fields[int(one)%len(s.Fields)].Name, text)
		query.Set(s.Fields[int(other)%len(s.Fields)].Name, more)
		v := view{Sum: s, Values: map[string]string{}, Unit: unit}
		v.fill(query)
		if (v.Answer == nil) == (v.Problems == nil) {
			t.Errorf("%s with %v: answer %v, problems %v", s.Name, query, v.Answer, v.Problems)
		}
	})
}
