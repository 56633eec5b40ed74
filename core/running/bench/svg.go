package bench

import (
	"bufio"
	"encoding/xml"
	"fmt"
	"io"
	"math"
	"strings"
)

// The drawing's measures, in its own units.
const (
	svgName   = 170.0 // for the names, on the left
	svgWide   = 800.0 // for the time
	svgHigh   = 34.0  // a row
	svgInner  = 22.0  // what is drawn of it
	svgMargin = 10.0
)

// SVG draws the strip: a row for each thing, time to the right. Levels and numbers are lines,
// how bright a lamp looks is a bar's height.
func (r *Recording) SVG(w io.Writer) error {
	out := bufio.NewWriter(w)
	high := svgHigh*float64(len(r.Rows)) + 3*svgMargin + 14
	wide := svgName + svgWide + 2*svgMargin
	ended := math.Max(r.Ended, 1e-9)
	x := func(at float64) float64 { return svgMargin + svgName + svgWide*math.Min(at/ended, 1) }
	fmt.Fprintf(out, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %g %g" font-family="sans-serif" font-size="12" fill="none" stroke="#1d2733">`+"\n", wide, high)
	fmt.Fprintf(out, `<title>%s</title>`+"\n", escaped(fmt.Sprintf("%.3g seconds on the bench, seed %d", r.Ended, r.Seed)))
	fmt.Fprintf(out, `<rect width="%g" height="%g" fill="#fbf9f3" stroke="none"/>`+"\n", wide, high)
	for i := range r.Rows {
		row := &r.Rows[i]
		top := svgMargin + svgHigh*float64(i)
		low := top + (svgHigh+svgInner)/2
		fmt.Fprintf(out, `<path d="M%g %.4gh%g" stroke="#d8d0c0"/>`+"\n", svgMargin, top+svgHigh, wide-2*svgMargin)
		fmt.Fprintf(out, `<text x="%g" y="%.5g" fill="#1d2733" stroke="none">%s</text>`+"\n", svgMargin, low-6, escaped(row.Name))
		least, most := extent(row)
		y := func(v float64) float64 { return low - svgInner*(v-least)/(most-least) }
		var d strings.Builder
		for k, c := range row.Changes {
			if k == 0 {
				fmt.Fprintf(&d, "M%.6g %.5g", x(c.At), y(c.Value))
			} else {
				fmt.Fprintf(&d, "H%.6gV%.5g", x(c.At), y(c.Value))
			}
		}
		if d.Len() == 0 {
			continue
		}
		if fmt.Fprintf(&d, "H%.6g", x(ended)); row.Kind == LampRow {
			first := row.Changes[0]
			fmt.Fprintf(out, `<path d="M%.6g %.5gV%.5g%sV%.5gz" fill="#a8521c" fill-opacity="0.6" stroke="none"/>`+"\n",
				x(first.At), low, y(first.Value), strings.TrimPrefix(d.String(), fmt.Sprintf("M%.6g %.5g", x(first.At), y(first.Value))), low)
			continue
		}
		fmt.Fprintf(out, `<path d="%s" stroke-width="1.5"/>`+"\n", d.String())
	}
	foot := svgMargin + svgHigh*float64(len(r.Rows)) + 16
	for k := range 6 {
		at := ended * float64(k) / 5
		fmt.Fprintf(out, `<text x="%.5g" y="%.5g" fill="#56606b" stroke="none" text-anchor="middle">%.3g s</text>`+"\n", x(at), foot, at)
	}
	fmt.Fprint(out, "</svg>\n")
	return out.Flush()
}

// extent is from where to where a row is drawn: a lamp from dark to full, a level from low to
// high, all else between its own ends.
func extent(row *Row) (least, most float64) {
	if row.Kind == LampRow {
		return 0, 100
	}
	least, most = 0, 1
	for i, c := range row.Changes {
		if i == 0 && row.Kind == HandRow {
			least, most = c.Value, c.Value
		}
		least, most = math.Min(least, c.Value), math.Max(most, c.Value)
	}
	if most <= least {
		return least - 1, least + 1
	}
	return least, most
}

func escaped(s string) string {
	var b strings.Builder
	if err := xml.EscapeText(&b, []byte(s)); err != nil {
		return ""
	}
	return b.String()
}
