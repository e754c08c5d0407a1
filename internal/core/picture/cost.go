//go:build !js

package picture

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
)

// Bytes a pixel that do not follow from a picture's depth: HEIC's decoder works on
// copies of its own, and what a picture is looked over with is beside it (measured).
const (
	heicBytes = 12
	looked    = 2
)

// cost returns about how many bytes are in use at most while a picture of a
// size and format is decoded and made upright.
func cost(b []byte, size image.Config, format string) int64 {
	px := float64(size.Width) * float64(size.Height)
	const rgba = 4
	var source, work float64 // bytes a pixel of what the decoder returns, and of what else it holds
	switch format {
	case "jpeg":
		samples, progressive := jpegSamples(b)
		if k := float64(shrunkBy(b, size, format)); k > 1 {
			return int64(px*samples + 2*rgba*px/(k*k))
		}
		if source = samples; progressive {
			work = 4 * samples // all coefficients, as 32-bit numbers
		}
	case "png":
		source = depth(size.ColorModel)
	case "webp":
		source, work = 2.5, 1 // planes with alpha, and those of its predictions
	case "heic":
		source = heicBytes
	case "gif":
		source = 1
	default:
		source = depth(size.ColorModel)
	}
	return int64(px * max(source+work, source+rgba, rgba+looked))
}

// depth returns the bytes a pixel of the standard library's pictures of a colour model.
func depth(m color.Model) float64 {
	switch m {
	case color.RGBA64Model, color.NRGBA64Model:
		return 8
	case color.Gray16Model:
		return 2
	case color.GrayModel:
		return 1
	}
	if _, indexed := m.(color.Palette); indexed {
		return 1
	}
	return 4
}

// A progressive JPEG goes over all of its pixels once a scan, however little is said in it.
// Usual ones have 10 scans, optimised ones a few more (the scripts of libjpeg and of its
// optimisers, from memory); of what has more, so many pixels may be gone over in all (ours:
// about 3 s on one core; a twentieth of it refuses 12 megapixels as cameras save them, twenty
// times as much lets one photo hold a minute).
const usualScans, mostScanned = 16, 320_000_000

// scans returns how many scans a JPEG has; 1 for every other format.
func scans(b []byte, format string) (n int) {
	if format != "jpeg" {
		return 1
	}
	for at := 2; at+4 <= len(b) && b[at] == 0xff; {
		marker := b[at+1]
		switch {
		case marker == 0xff: // fill bytes
			at++
			continue
		case marker == markerEOI:
			return n
		}
		at += 2 + int(binary.BigEndian.Uint16(b[at+2:]))
		if marker != markerSOS {
			continue
		}
		n++
		for at+1 < len(b) && !(b[at] == 0xff && b[at+1] != 0 && (b[at+1] < 0xd0 || b[at+1] > 0xd7)) {
			at++
		}
	}
	return n
}

// jpegSamples returns how many samples a pixel a JPEG has, all components
// together, and whether it is progressive (ITU-T T.81, B.2.2); three and
// progressive, the most there is, where its frame header cannot be found.
func jpegSamples(b []byte) (samples float64, progressive bool) {
	for at := 2; at+4 <= len(b) && b[at] == 0xff; {
		marker, n := b[at+1], int(binary.BigEndian.Uint16(b[at+2:]))
		if marker == 0xff { // fill bytes
			at++
			continue
		}
		if marker >= 0xc0 && marker <= 0xc2 && at+10 < len(b) {
			components := int(b[at+9])
			if at+10+3*components > len(b) {
				break
			}
			most, all := 1, 0
			for i := range components {
				f := b[at+10+3*i+1]
				area := max(1, int(f>>4)*int(f&15))
				most, all = max(most, area), all+area
			}
			return float64(all) / float64(most), marker == 0xc2
		}
		at += 2 + n
	}
	return 3, true
}

// Cost returns about how many bytes are in use at most while Decode decodes a
// picture. Errors are those of Decode that can be told before any pixel.
func Cost(b []byte) (int64, error) {
	size, format, err := measured(b)
	if err != nil {
		return 0, err
	}
	return cost(b, size, format), nil
}

// MostCost bounds what one picture may use while it is decoded, so that the
// server stays within its 400 MB.
const MostCost = 260 << 20

// measured returns a picture's size and format, or what is wrong with it.
func measured(b []byte) (image.Config, string, error) {
	if len(b) == 0 {
		return image.Config{}, "", ErrEmpty
	}
	size, format, err := image.DecodeConfig(bytes.NewReader(b))
	if err != nil {
		return size, format, unreadable(err)
	}
	return size, format, fits(b, size, format)
}
