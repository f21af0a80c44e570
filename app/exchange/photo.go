package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // kinds of pictures that are taken
	_ "image/png"
	"math"
	"slices"
)

// ErrNoPhoto is the error of bytes that are no picture. What it says after the colon is for people.
var ErrNoPhoto = errors.New("this is no photo")

// photoKinds are what pictures are taken as, and mostPixels bounds what a browser is asked to
// draw (chosen).
var photoKinds = []string{"jpeg", "png"}

const mostPixels = 60e6

// PhotoKind tells what kind of picture bytes are, by decoding them whole: jpeg or png.
func PhotoKind(data []byte) (kind string, err error) {
	c, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || !slices.Contains(photoKinds, kind) {
		return "", fmt.Errorf("%w: it is neither JPEG nor PNG", ErrNoPhoto)
	}
	if pixels := float64(c.Width) * float64(c.Height); pixels > mostPixels || math.Min(float64(c.Width), float64(c.Height)) < 1 {
		return "", fmt.Errorf("%w: %d × %d pixels are more than can be shown", ErrNoPhoto, c.Width, c.Height)
	}
	if _, _, err := image.Decode(bytes.NewReader(data)); err != nil {
		return "", fmt.Errorf("%w: it is damaged, or not all of it", ErrNoPhoto)
	}
	return kind, nil
}
