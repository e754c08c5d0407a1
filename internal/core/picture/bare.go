//go:build !js

package picture

import (
	"bytes"
	"encoding/binary"
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
		for at < len(b) && b[at] == 0xff && at+1 < len(b) && b[at+1] == 0xff {
			at++ // fill bytes
		}
		if at+2 > len(b) || b[at] != 0xff {
			return nil, turn, false
		}
		marker := b[at+1]
		if marker == markerEOI {
			return append(out, 0xff, markerEOI), turn, framed
		}
		if at+4 > len(b) {
			return nil, turn, false
		}
		end := at + 2 + int(binary.BigEndian.Uint16(b[at+2:]))
		if end < at+4 || end > len(b) {
			return nil, turn, false
		}
		segment := b[at:end]
		switch {
		case marker == markerAPP0:
			if bytes.HasPrefix(segment[4:], []byte("JFIF\x00")) && len(segment) >= 18 {
				out = append(out, 0xff, markerAPP0, 0, 16) // without its thumbnail
				out = append(out, segment[4:16]...)
				out = append(out, 0, 0)
			}
		case marker == markerAPP14 || marker < markerAPP0 || marker > 0xef && marker != markerCOM:
			if isFrame(marker) {
				if framed || len(segment) < 10 || segment[4] != 8 || segment[9] != 1 && segment[9] != 3 {
					return nil, turn, false
				}
				framed = true
			}
			out = append(out, segment...)
		}
		if at = end; marker == markerSOS {
			for at+1 < len(b) && !(b[at] == 0xff && b[at+1] != 0 && (b[at+1] < 0xd0 || b[at+1] > 0xd7)) {
				at++
			}
			if at+1 >= len(b) {
				return nil, turn, false // cut off
			}
			out = append(out, b[end:at]...)
		}
	}
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
