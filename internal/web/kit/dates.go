package kit

import (
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/letters"
	"zestysketch/internal/room"
)

// How people write days; of figures alone the day comes first, as on most school calendars.
var (
	withYear    = []string{time.DateOnly, "2 Jan 2006", "2 January 2006", "Jan 2 2006", "January 2 2006", "2.1.2006", "2/1/2006"}
	withoutYear = []string{"2 Jan", "2 January", "Jan 2", "January 2", "2.1.", "2.1", "2/1"}

	beside  = regexp.MustCompile(`(?i)\b(mon|tues?|wed(nes)?|thu(rs)?|fri|sat(ur)?|sun)(day)?\b\.?|\bof\b|,`)
	ordinal = regexp.MustCompile(`(?i)(\d)(st|nd|rd|th)\b`)
	until   = regexp.MustCompile(`(?i)\s+(?:to|until|till)\s+|\s+[-–—]\s+|\s*[–—]\s*`)
	sameEnd = regexp.MustCompile(`^(\d{1,2})\s*-\s*(\d{1,2}\s+\p{L}.*)$`)
	oclock  = regexp.MustCompile(`(?i)^(\d{1,2})(?:[:.,h](\d{2}))?\s*([ap])?\.?(?:m\.?)?h?$`)
)

// dayOf reads a day as people write it, such as 21 Dec; where it names no year it is the first such day
// that does not lie before another.
func dayOf(text string, from lesson.Day) (lesson.Day, bool) {
	text = strings.Join(strings.Fields(ordinal.ReplaceAllString(beside.ReplaceAllString(text, " "), "$1")), " ")
	for _, layout := range withYear {
		if t, err := time.Parse(layout, text); err == nil {
			return room.DayOf(t), t.Year() >= 2000 && t.Year() <= 2200
		}
	}
	first := room.DateOf(from).Year()
	for _, layout := range withoutYear {
		for year := first; year <= first+8; year++ { // 29 February is not in every one
			if t, err := time.Parse(layout+" 2006", text+" "+strconv.Itoa(year)); err == nil && room.DayOf(t) >= from {
				return room.DayOf(t), true
			}
		}
	}
	return 0, false
}

// ReadDate reads the day in a field, on or after another where it names no year.
func ReadDate(field, text string, from lesson.Day) (lesson.Day, error) {
	day, ok := dayOf(text, from)
	if !ok {
		return 0, AskAt(field, "Wanted a date such as 21 Dec or 2026-12-21, got “%s”.", letters.Cut(strings.TrimSpace(text), 40))
	}
	return day, nil
}

// ReadDays reads days and stretches of days, one a line or parted by commas; several may stand in a line of nothing but
// dates.
func ReadDays(field, text string, from lesson.Day) (all []lesson.Day, err error) {
	for _, line := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == ',' || r == ';' }) {
		if several.MatchString(line) {
			line = strings.Join(strings.Fields(line), "\n")
		}
		for one := range strings.Lines(line) {
			if strings.TrimSpace(one) == "" {
				continue
			}
			days, err := readStretch(field, one, from)
			if err != nil {
				return all, err
			}
			if all = append(all, days...); len(all) > mostOff {
				return all, AskAt(field, "That is more than %d days without lessons.", mostOff)
			}
		}
	}
	return all, nil
}

// Stretches writes days as they are read again: a day a line, or from one to another.
func Stretches(days []lesson.Day) string {
	days = slices.Compact(slices.Sorted(slices.Values(days)))
	var lines []string
	for i := 0; i < len(days); i++ {
		first := i
		for i+1 < len(days) && days[i+1] == days[i]+1 {
			i++
		}
		line := room.DateOf(days[first]).Format(time.DateOnly)
		if i > first {
			line += " to " + room.DateOf(days[i]).Format(time.DateOnly)
		}
		lines = append(lines, line)
	}
	return strings.Join(lines, "\n")
}

// several is a line of nothing but dates.
var several = regexp.MustCompile(`^(\s*\d{4}-\d{2}-\d{2}){2,}\s*$`)

// readStretch reads one day, or from one to another: 21 Dec to 4 Jan.
func readStretch(field, text string, from lesson.Day) (days []lesson.Day, err error) {
	ends := until.Split(strings.TrimSpace(text), 2)
	if m := sameEnd.FindStringSubmatch(ends[0]); len(ends) == 1 && m != nil {
		ends = []string{m[1] + strings.TrimLeft(m[2], "0123456789"), m[2]}
	}
	first, err := ReadDate(field, ends[0], from)
	if err != nil {
		return nil, err
	}
	last, err := ReadDate(field, ends[len(ends)-1], first)
	if err != nil {
		return nil, err
	}
	if last < first || last-first > mostOff {
		return nil, AskAt(field, "“%s” ends before it begins, or is longer than %d days.", letters.Cut(strings.TrimSpace(text), 40), mostOff)
	}
	for day := first; day <= last; day++ {
		days = append(days, day)
	}
	return days, nil
}

// mostOff bounds the days without lessons.
const mostOff = 300

// TimeOf reads a time of day, in minutes after midnight: 9:30, 9.30, 9h30, 2pm.
func TimeOf(text string) (minutes int, ok bool) {
	m := oclock.FindStringSubmatch(strings.TrimSpace(text))
	if m == nil {
		return 0, false
	}
	hour, _ := strconv.Atoi(m[1])
	minute, _ := strconv.Atoi(m[2]) // none is the full hour
	half := strings.ToLower(m[3])
	switch {
	case half != "" && (hour < 1 || hour > 12), hour > 23, minute > 59, m[2] == "" && half == "" && !strings.ContainsAny(text, "hH"):
		return 0, false
	case half == "p" && hour < 12:
		hour += 12
	case half == "a" && hour == 12:
		hour = 0
	}
	return 60*hour + minute, true
}
