package formats

import (
	"bytes"
	"crypto/sha256"
	_ "embed"
	"encoding/base64"
	"fmt"
	"html/template"
	"time"

	ics "github.com/arran4/golang-ical"

	"idletimber/craft/aftercare"
	"idletimber/craft/geom"
	"idletimber/craft/giving"
)

//go:embed care.html
var careHTML string

//go:embed care.css
var careCSS string

var (
	carePage = template.Must(template.New("care").Parse(careHTML))
	// CareStyle is what a policy names the style of care pages by: nothing else may style them, and no script runs.
	CareStyle = "'sha256-" + base64.StdEncoding.EncodeToString(sum(careCSS)) + "'"
)

func sum(s string) []byte {
	h := sha256.Sum256([]byte(s))
	return h[:]
}

// CarePage is the public page of a board that was given away.
type CarePage struct {
	Card     GiftCard
	Names    bool // they may stand on it
	Next     *time.Time
	Every    int    // days
	Calendar string // where the days on which it is oiled are had
}

// HTML writes the page: without script, readable on a phone and on paper.
func (c CarePage) HTML() ([]byte, error) {
	card := c.Card
	v := struct {
		Lang, Title, For, By, Next, Calendar string
		Weeks                                int
		Style                                template.CSS
		Picture                              template.HTML
		Lines                                []string
		Signs                                []aftercare.Sign
	}{
		Lang: "en", Title: card.Title, Calendar: c.Calendar, Weeks: max(1, (c.Every+3)/7),
		Style: template.CSS(
			careCSS,
		), Picture: template.HTML(card.picture()),
		Lines: card.texts(func(key string) bool {
			return key != giving.FirstLine && (c.Names || key != giving.NoteLine)
		}),
		Signs: aftercare.Signs(),
	}
	if c.Names {
		v.For, v.By = card.For, card.By
	} else if card.Wood != "" {
		v.Title = "A board of " + card.Wood
	}
	if c.Next != nil {
		v.Next = c.Next.Format("2 Jan 2006")
	}
	var out bytes.Buffer
	if err := carePage.Execute(&out, v); err != nil {
		return nil, fmt.Errorf("write the care page: %w", err)
	}
	return out.Bytes(), nil
}

// picture draws the board as a small SVG.
func (c GiftCard) picture() string {
	outline := geom.Largest(rings(c.Path))
	if len(outline) < 3 {
		return ""
	}
	const fine = 0.4 // mm, that the drawing may be off by
	box := outline.Bounds()
	d := outline.Simplified(fine).Rounded(0.1).Map(flip).SVG()
	for _, h := range c.Holes {
		for _, r := range rings(h) {
			d += r.Simplified(fine).Rounded(0.1).Map(flip).SVG()
		}
	}
	light, dark := hex(c.Light), hex(c.Dark)
	return fmt.Sprintf(`<svg viewBox="%.0f %.0f %.0f %.0f" role="img" aria-label="The board's outline"><path d="%s" `+
		`fill="#%02x%02x%02x" fill-rule="evenodd" stroke="#%02x%02x%02x" stroke-width="2"/></svg>`,
		box.MinX-2, -box.MaxY-2, box.MaxX-box.MinX+4, box.MaxY-box.MinY+4, d,
		light.R, light.G, light.B, dark.R, dark.G, dark.B)
}

// flip turns a point of a board's frame, y up, to one of a drawing, y down.
func flip(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }

// OilingCalendar are the days on which a board is oiled, as a calendar file; id names them for good.
func OilingCalendar(id, title string, days []time.Time, now time.Time) []byte {
	cal := ics.NewCalendarFor("Idle Timber")
	cal.SetMethod(ics.MethodPublish)
	for i, day := range days {
		e := allDay(cal, Day{fmt.Sprintf("oil/%s/%d", id, i+1), "Oil the board " + title, day}, now)
		e.SetDescription("Wash it, let it dry on edge, rub in the finish named on its card, wipe off what is left.")
		e.SetTimeTransparency(ics.TransparencyTransparent)
	}
	return []byte(cal.Serialize())
}
