// Package picture takes in what a camera made: upright, no larger than it is looked at,
// and without what a camera writes beside it (place, device, time).
package picture

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // is read

	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // is read
)

// Bounds of what is taken in, and of what is kept.
const (
	MaxBytes = 12 << 20
	maxSide  = 20_000
	maxArea  = 60_000_000 // pixels
	fullSide = 2048
	tinySide = 480
	quality  = 85
)

// A Picture is a picture as it is kept, as JPEG in two sizes.
type Picture struct {
	Width, Height int // of Full, in pixels
	Full, Small   []byte
}

// ErrNone says that something is not a picture.
var ErrNone = errors.New("this is not a picture that can be taken; PNG, JPEG and WebP can")

// Take reads a picture. Its error is [ErrNone], or says what is too large.
func Take(data []byte) (*Picture, error) {
	if len(data) > MaxBytes {
		return nil, fmt.Errorf("the picture has %d MB; at most %d", len(data)>>20, MaxBytes>>20)
	}
	c, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNone
	}
	if c.Width < 1 || c.Height < 1 || c.Width > maxSide || c.Height > maxSide || c.Width*c.Height > maxArea {
		return nil, fmt.Errorf("the picture has %d × %d points; at most %d million", c.Width, c.Height, maxArea/1_000_000)
	}
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, ErrNone
	}
	turned := 1
	if format == "jpeg" {
		turned = orientation(data)
	}
	// Made smaller first, turned then: that is less to turn.
	full := upright(scaled(img, fullSide), turned)
	small := scaled(full, tinySide)
	p := &Picture{Width: full.Bounds().Dx(), Height: full.Bounds().Dy()}
	if p.Full, err = encoded(full); err != nil {
		return nil, err
	}
	p.Small, err = encoded(small)
	return p, err
}

func encoded(img image.Image) ([]byte, error) {
	var out bytes.Buffer
	err := jpeg.Encode(&out, img, &jpeg.Options{Quality: quality})
	return out.Bytes(), err
}

// scaled draws a picture so that its longer side is at most so many points, on white.
func scaled(img image.Image, side int) *image.RGBA {
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	if long := max(w, h); long > side {
		w, h = max(1, w*side/long), max(1, h*side/long)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.White, image.Point{}, draw.Src)
	draw.CatmullRom.Scale(out, out.Bounds(), img, b, draw.Over, nil)
	return out
}

// upright turns a picture as its orientation says (Exif 2.3, tag 0x0112): 2, 4, 5 and 7 are
// mirrored, 3 is upside down, 6 and 8 lie on their side.
func upright(img *image.RGBA, orientation int) *image.RGBA {
	if orientation <= 1 || orientation > 8 {
		return img
	}
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if orientation >= 5 {
		out = image.NewRGBA(image.Rect(0, 0, h, w))
	}
	for y := range h {
		for x := range w {
			u, v := x, y
			switch orientation {
			case 2:
				u = w - 1 - x
			case 3:
				u, v = w-1-x, h-1-y
			case 4:
				v = h - 1 - y
			case 5:
				u, v = y, x
			case 6:
				u, v = h-1-y, x
			case 7:
				u, v = h-1-y, w-1-x
			case 8:
				u, v = y, w-1-x
			}
			copy(out.Pix[out.PixOffset(u, v):][:4], img.Pix[img.PixOffset(x, y):][:4])
		}
	}
	return out
}

// orientation reads how a camera was held from the Exif part of a JPEG file; 1 is upright,
// also where nothing is said (JEITA CP-3451, Exif 2.3: APP1 with a TIFF header, IFD 0).
func orientation(data []byte) int {
	for at := 2; at+4 <= len(data) && data[at] == 0xFF; {
		marker, size := data[at+1], int(binary.BigEndian.Uint16(data[at+2:]))
		if size < 2 || at+2+size > len(data) || marker == 0xDA {
			return 1
		}
		if body := data[at+4 : at+2+size]; marker == 0xE1 && bytes.HasPrefix(body, []byte("Exif\x00\x00")) {
			return tagged(body[6:])
		}
		at += 2 + size
	}
	return 1
}

func tagged(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if string(tiff[:2]) == "II" {
		order = binary.LittleEndian
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 8 || at+2 > len(tiff) {
		return 1
	}
	for n := range int(order.Uint16(tiff[at:])) {
		entry := at + 2 + 12*n
		if entry+12 > len(tiff) {
			return 1
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			return int(order.Uint16(tiff[entry+8:]))
		}
	}
	return 1
}
