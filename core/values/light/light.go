// Package light computes what the eye makes of LEDs: how bright one looks, and
// which colour several give together.
package light

import "math"

// Lightness returns the CIE 1976 lightness L*, 0 to 100, of a light that is y
// times as strong as the one that counts as full (CIE 15:2004, 8.2.1). The eye
// sees half of a light as three quarters as bright.
func Lightness(y float64) float64 {
	const e, k = 216.0 / 24389, 24389.0 / 27
	if y <= 0 {
		return 0
	}
	if y > e {
		return 116*math.Cbrt(y) - 16
	}
	return k * y
}

// Share returns how strong a light is that has a lightness, 0 to 100, as a part
// of the one that counts as full: what undoes [Lightness].
func Share(lightness float64) float64 {
	const k = 24389.0 / 27
	switch {
	case lightness <= 0:
		return 0
	case lightness > 8:
		return math.Pow((lightness+16)/116, 3)
	}
	return lightness / k
}

// Word says a lightness in a word.
func Word(lightness float64) string {
	switch {
	case lightness < 5:
		return "dark"
	case lightness < 25:
		return "faint"
	case lightness < 55:
		return "dim"
	case lightness < 85:
		return "bright"
	}
	return "very bright"
}

// locus is the chromaticity of light of one wavelength, every 5 nm (CIE 1931
// standard observer, CIE 15:2004 table T.4; from memory, four digits).
var locus = []struct{ nm, x, y float64 }{
	{450, .1566, .0177}, {455, .1510, .0227}, {460, .1440, .0297}, {465, .1355, .0399}, {470, .1241, .0578}, {475, .1096, .0868},
	{480, .0913, .1327}, {485, .0687, .2007}, {490, .0454, .2950}, {495, .0235, .4127}, {500, .0082, .5384}, {505, .0039, .6548},
	{510, .0139, .7502}, {515, .0389, .8120}, {520, .0743, .8338}, {525, .1142, .8262}, {530, .1547, .8059}, {535, .1929, .7816},
	{540, .2296, .7543}, {545, .2658, .7243}, {550, .3016, .6923}, {555, .3373, .6589}, {560, .3731, .6245}, {565, .4087, .5896},
	{570, .4441, .5547}, {575, .4788, .5202}, {580, .5125, .4866}, {585, .5448, .4544}, {590, .5752, .4242}, {595, .6029, .3965},
	{600, .6270, .3725}, {605, .6482, .3514}, {610, .6658, .3340}, {615, .6801, .3197}, {620, .6915, .3083}, {625, .7006, .2993},
	{630, .7079, .2920}, {635, .7140, .2859}, {640, .7190, .2809}, {645, .7230, .2770}, {650, .7260, .2740},
}

// Chromaticity returns the CIE 1931 x and y of light of a dominant wavelength
// in nanometres, of which an LED's is taken to be (its spectrum is narrow). It
// is false outside 450 to 650 nm.
func Chromaticity(nm float64) (x, y float64, ok bool) {
	first, last := locus[0].nm, locus[len(locus)-1].nm
	if !(nm >= first && nm <= last) {
		return 0, 0, false
	}
	i := min(int((nm-first)/5), len(locus)-2)
	a, b := locus[i], locus[i+1]
	t := (nm - a.nm) / 5
	return a.x + t*(b.x-a.x), a.y + t*(b.y-a.y), true
}

// A Primary is one of the colours that are mixed.
type Primary struct {
	Nanometres float64 // dominant wavelength
	Candela    float64 // luminous intensity for each ampere
}

// xyz returns the tristimulus values for each candela.
func (p Primary) xyz() (v [3]float64, ok bool) {
	x, y, ok := Chromaticity(p.Nanometres)
	if !ok {
		return v, false
	}
	return [3]float64{x / y, 1, (1 - x - y) / y}, true
}

// Mix returns the colour that primaries give together at currents in amperes,
// as sRGB, 0 to 1 each: the colour alone, with its largest part at 1 (IEC
// 61966-2-1). What a screen cannot show is brought to the nearest edge. It is
// false when nothing that can be seen is lit.
func Mix(primaries []Primary, amps []float64) (rgb [3]float64, ok bool) {
	var sum [3]float64
	for i, p := range primaries {
		v, known := p.xyz()
		if !known || amps[i] <= 0 {
			continue
		}
		for k := range sum {
			sum[k] += p.Candela * amps[i] * v[k]
		}
	}
	most := 0.0
	for k, row := range fromXYZ {
		rgb[k] = math.Max(row[0]*sum[0]+row[1]*sum[1]+row[2]*sum[2], 0)
		most = math.Max(most, rgb[k])
	}
	if most <= 0 {
		return rgb, false
	}
	for k := range rgb {
		rgb[k] = gamma(rgb[k] / most)
	}
	return rgb, true
}

// fromXYZ is the matrix of IEC 61966-2-1.
var fromXYZ = [3][3]float64{{3.2406, -1.5372, -0.4986}, {-0.9689, 1.8758, 0.0415}, {0.0557, -0.2040, 1.0570}}

// gamma is the transfer function of IEC 61966-2-1.
func gamma(v float64) float64 {
	if v <= 0.0031308 {
		return 12.92 * v
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

// White returns the currents of three primaries that give the white of
// daylight (D65: x 0.3127, y 0.3290, CIE 15:2004 table T.3), the largest of
// them at most amps. It is false when white does not lie between them.
func White(primaries []Primary, amps float64) (currents []float64, ok bool) {
	const x, y = 0.3127, 0.3290
	white := [3]float64{x / y, 1, (1 - x - y) / y}
	var m [3][3]float64
	for i, p := range primaries {
		v, ok := p.xyz()
		if !ok || p.Candela <= 0 {
			return nil, false
		}
		for k := range v {
			m[k][i] = v[k]
		}
	}
	d := det(m)
	most := 0.0
	for i, p := range primaries {
		n := m
		for k := range white {
			n[k][i] = white[k]
		}
		candela := det(n) / d // Cramer's rule
		if !(candela > 0) || math.IsInf(candela, 0) {
			return nil, false
		}
		currents = append(currents, candela/p.Candela)
		most = math.Max(most, currents[i])
	}
	for i := range currents {
		currents[i] *= amps / most
	}
	return currents, true
}

func det(m [3][3]float64) float64 {
	return m[0][0]*(m[1][1]*m[2][2]-m[1][2]*m[2][1]) - m[0][1]*(m[1][0]*m[2][2]-m[1][2]*m[2][0]) + m[0][2]*(m[1][0]*m[2][1]-m[1][1]*m[2][0])
}
