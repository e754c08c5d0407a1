package render

import (
	"bytes"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf16"

	"zestysketch/internal/core/page"
)

var (
	rootOf  = regexp.MustCompile(`/Root (\d+) 0 R`)
	sizeOf  = regexp.MustCompile(`/Size (\d+)`)
	infoOf  = regexp.MustCompile(`/Info \d+ 0 R`)
	startOf = regexp.MustCompile(`startxref\n(\d+)\n%%EOF\n?$`)
)

// labelled adds to a finished PDF what fpdf does not write: page labels (ISO 32000-1,
// 12.4.2), by which each owner's pages are numbered from 1 behind their name, and that
// viewers show its title and print it unscaled (12.2). It appends an update with the catalog in a new version (7.5.6); a file
// whose end is not as expected is returned as it is.
func labelled(file []byte, pages []page.Page) []byte {
	tail := file[max(0, len(file)-2048):]
	root, size, start := rootOf.FindSubmatch(tail), sizeOf.FindSubmatch(tail), startOf.FindSubmatch(tail)
	if root == nil || size == nil || start == nil {
		return file
	}
	head := fmt.Sprintf("\n%s 0 obj\n<<", root[1])
	at := bytes.LastIndex(file, []byte(head))
	if at < 0 {
		return file
	}
	dict := file[at+len(head):]
	end := bytes.Index(dict, []byte(">>\nendobj"))
	if end < 0 {
		return file
	}
	var out bytes.Buffer
	out.Write(file)
	object := out.Len()
	fmt.Fprintf(&out, "%s 0 obj\n<<%s/PageLabels << /Nums [%s] >>\n/ViewerPreferences << /DisplayDocTitle true /PrintScaling /None >>\n>>\nendobj\n", root[1], dict[:end], labelRanges(pages))
	table := out.Len()
	fmt.Fprintf(&out, "xref\n%s 1\n%010d 00000 n \ntrailer\n<<\n/Size %s\n/Root %s 0 R\n%s\n/Prev %s\n>>\nstartxref\n%d\n%%%%EOF\n",
		root[1], object, size[1], root[1], infoOf.Find(tail), start[1], table)
	return out.Bytes()
}

// labelRanges writes where each owner's pages begin.
func labelRanges(pages []page.Page) string {
	var ranges []string
	for i, p := range pages {
		if i > 0 && p.Owner == pages[i-1].Owner {
			continue
		}
		prefix := ""
		if p.Owner != "" {
			prefix = " /P " + textString(p.Owner+" ")
		}
		ranges = append(ranges, strconv.Itoa(i)+" << /S /D"+prefix+" >>")
	}
	return strings.Join(ranges, " ")
}

// textString writes words as a PDF text string, UTF-16 in hexadecimal (7.9.2.2).
func textString(words string) string {
	var b strings.Builder
	b.WriteString("<FEFF")
	for _, unit := range utf16.Encode([]rune(words)) {
		fmt.Fprintf(&b, "%04X", unit)
	}
	b.WriteString(">")
	return b.String()
}
