//go:build !js

package picture

import (
	"bytes"

	"github.com/bep/imagemeta"
)

// withMetadata are the formats in which an orientation is looked for. HEIC is
// turned upright by its own decoder, and GIF has none.
var withMetadata = map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "tiff": imagemeta.TIFF, "png": imagemeta.PNG, "webp": imagemeta.WebP}

// mostTags bounds what is read of a picture's metadata.
const mostTags = 500

// orientation returns the EXIF orientation (CIPA DC-008, tag 274), 1 to 8; 1
// where there is none or it cannot be read. Malformed metadata must not lose
// the picture.
func orientation(b []byte, format string) int {
	turn := 1
	kind, ok := withMetadata[format]
	if !ok {
		return turn
	}
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(b), ImageFormat: kind, Sources: imagemeta.EXIF, LimitNumTags: mostTags,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Namespace == "IFD0" && t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 {
				turn = int(v)
			}
			return imagemeta.ErrStopWalking
		},
	})
	if err != nil {
		return 1
	}
	return turn
}
