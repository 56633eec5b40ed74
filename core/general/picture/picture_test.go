package picture_test

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/general/picture"
)

// quarters is a picture whose left upper quarter alone is red.
func quarters(w, h int) image.Image {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			img.Set(x, y, color.White)
			if x < w/2 && y < h/2 {
				img.Set(x, y, color.RGBA{255, 0, 0, 255})
			}
		}
	}
	return img
}

// held is a JPEG file whose camera was held so, with a place written into it.
func held(t *testing.T, orientation uint16) []byte {
	t.Helper()
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, quarters(80, 40), nil))
	exif := []byte("Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01")
	exif = binary.BigEndian.AppendUint16(exif, orientation)
	exif = append(exif, "\x00\x00\x00\x00\x00\x00 47.0 N 8.0 E"...)
	out := append([]byte{0xFF, 0xD8, 0xFF, 0xE1}, binary.BigEndian.AppendUint16(nil, uint16(len(exif)+2))...)
	return append(append(out, exif...), plain.Bytes()[2:]...)
}

// However the camera was held, the picture stands upright (the eight orientations of Exif
// 2.3), and nothing of what it wrote beside is left.
func TestPicturesStandUpright(t *testing.T) {
	// Where the upper left quarter of what the sensor saw is to be: right, low.
	for orientation, want := range map[uint16][2]bool{1: {false, false}, 2: {true, false}, 3: {true, true}, 4: {false, true},
		5: {false, false}, 6: {true, false}, 7: {true, true}, 8: {false, true}} {
		p, err := picture.Take(held(t, orientation))
		require.NoError(t, err)
		assert.Equal(t, orientation >= 5, p.Height > p.Width, orientation)
		assert.NotContains(t, string(p.Full), "47.0 N")
		assert.NotContains(t, string(p.Full), "Exif")
		img, err := jpeg.Decode(bytes.NewReader(p.Full))
		require.NoError(t, err)
		for _, right := range []bool{false, true} {
			for _, low := range []bool{false, true} {
				x, y := p.Width/4, p.Height/4
				if right {
					x *= 3
				}
				if low {
					y *= 3
				}
				_, g, _, _ := img.At(x, y).RGBA()
				assert.Equal(t, want == [2]bool{right, low}, g < 0x8000, "orientation %d, right %v, low %v", orientation, right, low)
			}
		}
	}
}

func TestLargePicturesAreMadeSmaller(t *testing.T) {
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, quarters(4000, 1000)))
	p, err := picture.Take(data.Bytes())
	require.NoError(t, err)
	assert.Equal(t, []int{2048, 512}, []int{p.Width, p.Height})
	small, err := jpeg.DecodeConfig(bytes.NewReader(p.Small))
	require.NoError(t, err)
	assert.Equal(t, 480, small.Width)
}

func TestWhatIsNoPicture(t *testing.T) {
	for name, data := range map[string][]byte{
		"nothing": nil, "a script": []byte("<script>alert(1)</script>"), "a drawing with a script": []byte("<svg><script/></svg>"),
		"cut off": held(t, 6)[:60], "GIF": []byte("GIF89a\x01\x00\x01\x00"),
	} {
		_, err := picture.Take(data)
		assert.ErrorIs(t, err, picture.ErrNone, name)
	}
	_, err := picture.Take(make([]byte, picture.MaxBytes+1))
	assert.ErrorContains(t, err, "at most 12")
	// A PNG that says it is a gigapixel.
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, quarters(2, 2)))
	huge := data.Bytes()
	binary.BigEndian.PutUint32(huge[16:], 19_000)
	binary.BigEndian.PutUint32(huge[20:], 19_000)
	_, err = picture.Take(huge)
	assert.Error(t, err)
}

func FuzzTake(f *testing.F) {
	var data bytes.Buffer
	if err := png.Encode(&data, quarters(4, 4)); err != nil {
		f.Fatal(err)
	}
	f.Add(data.Bytes())
	f.Add([]byte("\xFF\xD8\xFF\xE1\x00\x10Exif\x00\x00II*\x00\x08\x00\x00\x00\xFF\xFF"))
	f.Fuzz(func(t *testing.T, data []byte) {
		if p, err := picture.Take(data); err == nil && (p.Width < 1 || len(p.Small) == 0) {
			t.Error("a picture of nothing")
		}
	})
}
