//go:build !js

package picture

import (
	"bytes"
	"encoding/binary"
	"slices"
)

// Markers of a JPEG (ITU-T T.81, table B.1).
const (
	markerSOI, markerEOI, markerSOS = 0xd8, 0xd9, 0xda
	markerAPP0, markerAPP14         = 0xe0, 0xee
	markerCOM                       = 0xfe
)

// Bare returns a JPEG without all that says something about its taking or its taker:
// metadata, comments, thumbnails, and what follows its end. Not a pixel changes. Of
// the metadata it keeps which way up it is, in an Exif segment with nothing else in
// it. ok is false for what is no whole JPEG of one or three 8-bit components.
func Bare(b []byte) (bare []byte, turn int, ok bool) {
	if len(b) < 4 || b[0] != 0xff || b[1] != markerSOI {
		return nil, 1, false
	}
	turn = orientation(b, "jpeg")
	out := make([]byte, 0, len(b))
	out = append(out, 0xff, markerSOI)
	if turn != 1 {
		out = append(out, upAs(turn)...)
	}
	framed := false
	for at := 2; ; {
		marker, segment, end := nextSegment(b, at)
		switch {
		case end < 0:
			return nil, turn, false
		case marker == markerEOI:
			return append(out, 0xff, markerEOI), turn, framed
		case isFrame(marker) && (framed || !usualFrame(segment)):
			return nil, turn, false
		}
		framed = framed || isFrame(marker)
		out = append(out, keptOf(marker, segment)...)
		if at = end; marker == markerSOS {
			if at = scanEnd(b, end); at < 0 {
				return nil, turn, false // cut off
			}
			out = append(out, b[end:at]...)
		}
	}
}

// nextSegment returns the segment that begins somewhere, behind fill bytes, and where it ends,
// -1 where there is none that is whole. The picture's end is a marker alone.
func nextSegment(b []byte, at int) (marker byte, segment []byte, end int) {
	for at+1 < len(b) && b[at] == 0xff && b[at+1] == 0xff {
		at++
	}
	if at+2 > len(b) || b[at] != 0xff {
		return 0, nil, -1
	}
	if marker = b[at+1]; marker == markerEOI {
		return marker, nil, at + 2
	}
	if at+4 > len(b) {
		return marker, nil, -1
	}
	if end = at + 2 + int(binary.BigEndian.Uint16(b[at+2:])); end < at+4 || end > len(b) {
		return marker, nil, -1
	}
	return marker, b[at:end], end
}

// usualFrame reports whether a frame has one or three components of 8 bits.
func usualFrame(segment []byte) bool {
	return len(segment) >= 10 && segment[4] == 8 && (segment[9] == 1 || segment[9] == 3)
}

// keptOf returns what is kept of a segment: nothing of metadata and comments, and no thumbnail.
func keptOf(marker byte, segment []byte) []byte {
	switch {
	case marker == markerAPP0 && bytes.HasPrefix(segment[4:], []byte("JFIF\x00")) && len(segment) >= 18:
		return slices.Concat([]byte{0xff, markerAPP0, 0, 16}, segment[4:16], []byte{0, 0})
	case marker == markerAPP14 || marker < markerAPP0 || marker > 0xef && marker != markerCOM:
		return segment
	}
	return nil
}

// scanEnd returns where the pixels that begin somewhere end, -1 where they are cut off.
func scanEnd(b []byte, at int) int {
	for ; at+1 < len(b); at++ {
		if b[at] == 0xff && b[at+1] != 0 && (b[at+1] < 0xd0 || b[at+1] > 0xd7) {
			return at
		}
	}
	return -1
}

// isFrame reports whether a marker begins a frame: SOF0 to SOF15 without the tables
// that lie among them.
func isFrame(marker byte) bool {
	return marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc
}

// upAs is an Exif segment with the orientation alone (CIPA DC-008, 4.5.4).
func upAs(turn int) []byte {
	return []byte{0xff, 0xe1, 0, 34, 'E', 'x', 'i', 'f', 0, 0, 'M', 'M', 0, 42, 0, 0, 0, 8, 0, 1,
		0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, byte(turn), 0, 0, 0, 0, 0, 0}
}
