package web

import (
	"net/http"
	"regexp"
	"strings"
	"testing"
)

var (
	tag       = regexp.MustCompile(`(?s)<(script|style|svg)[^>]*>.*?</(script|style|svg)>|<[^>]+>`)
	sentence  = regexp.MustCompile(`[.!?:;]+(\s|$)`)
	word      = regexp.MustCompile(`[A-Za-z’']+`)
	vowels    = regexp.MustCompile(`[aeiouy]+`)
	paragraph = regexp.MustCompile(`(?s)<(p|li|label|summary|h[1-3]|button)\b[^>]*>(.*?)</(p|li|label|summary|h[1-3]|button)>`)
)

// grade returns the Flesch-Kincaid grade level of a text (Kincaid, Fishburne, Rogers and Chissom 1975, Research Branch
// Report 8-75; the formula from memory): 0.39 words a sentence + 11.8 syllables a word − 15.59. Syllables are runs of
// vowels, without a silent e.
func grade(text string) float64 {
	words, syllables := 0.0, 0.0
	for _, w := range word.FindAllString(strings.ToLower(text), -1) {
		words++
		n := len(vowels.FindAllString(w, -1))
		if strings.HasSuffix(w, "e") && !strings.HasSuffix(w, "le") && n > 1 {
			n--
		}
		syllables += float64(max(1, n))
	}
	sentences := float64(max(1, len(sentence.FindAllString(text, -1))))
	return 0.39*words/sentences + 11.8*syllables/max(1, words) - 15.59
}

// What a student reads is for a twelve-year-old: no page is above grade 6, and no sentence of it far above.
func TestStudentsPagesAreReadable(t *testing.T) {
	t.Parallel()
	if easy, hard := grade("The cat sat on the mat. It was warm."), grade("Institutional considerations necessitate organisational reconfiguration notwithstanding extraordinary circumstances."); easy > 2 || hard < 15 {
		t.Fatalf("the figure itself is wrong: %.1f and %.1f", easy, hard)
	}
	h := newHouse(t)
	h.withPhoto(t)
	for _, path := range []string{"", "?box=A1", "/train", "/photo", "/view"} {
		body := h.nobody().get("/s/"+h.link+path).want(http.StatusOK, "").body
		_, main, _ := strings.Cut(body, "<main")
		var all []string
		for _, p := range paragraph.FindAllStringSubmatch(main, -1) {
			text := strings.TrimSpace(strings.Join(strings.Fields(tag.ReplaceAllString(p[2], " ")), " "))
			if len(strings.Fields(text)) < 3 {
				continue // a name or a button
			}
			if !strings.HasSuffix(text, ".") && !strings.HasSuffix(text, "?") {
				text += "."
			}
			all = append(all, text)
			if g := grade(text); g > 9 && len(strings.Fields(text)) > 7 {
				t.Errorf("%q: grade %.1f: %q", path, g, text)
			}
		}
		if g := grade(strings.Join(all, " ")); g > 6 || len(all) < 2 {
			t.Errorf("%q: %d texts of grade %.1f; want 6 at most", path, len(all), g)
		}
	}
}
