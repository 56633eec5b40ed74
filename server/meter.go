package server

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/faults/meter"
	"cablaggio/store"
)

// MeterView is the meter that readings are expected of.
type MeterView struct {
	Meter *meter.Instrument `json:"meter"`
	Own   bool              `json:"own"` // it is the builder's own, not a usual one
	// Fields are the same, as they are shown and typed.
	Fields []meter.Field `json:"fields"`
	Tag    string        `json:"tag"` // names this state of it; send it back as If-Match to change it
}

// MeterField is one thing that the leaflet of the builder's own meter says, as it is typed.
type MeterField struct {
	Field string `json:"field" required:"true"`
	Text  string `json:"text" required:"true"`
}

// instrument is the builder's own meter, or a usual one.
func (s *server) instrument(ctx context.Context) (MeterView, error) {
	profile, tag, err := s.Store.Meter(ctx)
	if err != nil {
		return MeterView{}, err
	}
	out := MeterView{Meter: meter.Handheld(), Tag: strconv.FormatInt(tag, 10)}
	if profile != nil {
		out.Own = true
		if out.Meter, err = meter.Parse(bytes.NewReader(profile)); err != nil {
			return MeterView{}, err
		}
	}
	out.Fields = out.Meter.Fields()
	return out, nil
}

func (s *server) getMeter(c fiber.Ctx) error {
	ctx, cancel := ask(c)
	defer cancel()
	v, err := s.instrument(ctx)
	if err != nil {
		return err
	}
	c.Set("Cache-Control", "no-store")
	return c.JSON(v)
}

// putMeter takes what the leaflet of the builder's own meter says.
func (s *server) putMeter(c fiber.Ctx) error {
	body, err := s.json(c)
	if err != nil {
		return err
	}
	m, err := meter.Parse(bytes.NewReader(body))
	if err != nil {
		return problem(http.StatusUnprocessableEntity, "This is not a meter that can be taken.", sentence(err.Error()))
	}
	return s.keepMeter(c, m)
}

// setMeter takes one thing that the leaflet says, as it is typed: from then on the meter is the
// builder's own.
func (s *server) setMeter(c fiber.Ctx) error {
	var req MeterField
	if _, err := s.body(c, &req); err != nil {
		return err
	}
	ctx, cancel := ask(c)
	defer cancel()
	v, err := s.instrument(ctx)
	if err != nil {
		return err
	}
	was := *v.Meter
	if !v.Own {
		was.ID, was.Name, was.Source = "own", "My meter", "its leaflet"
	}
	m, err := was.With(req.Field, req.Text)
	if err != nil {
		return problem(http.StatusUnprocessableEntity, sentence(err.Error()), "")
	}
	return s.keepMeter(c, m)
}

// dropMeter goes back to a usual meter.
func (s *server) dropMeter(c fiber.Ctx) error { return s.keepMeter(c, nil) }

func (s *server) keepMeter(c fiber.Ctx, m *meter.Instrument) error {
	var profile []byte
	if m != nil {
		var err error
		if profile, err = json.Marshal(m); err != nil {
			return err
		}
	}
	from, err := strconv.ParseInt(matches(c), 10, 64)
	if err != nil {
		return problem(http.StatusPreconditionRequired, "The request does not say which state of the meter it is for.", "send its tag as If-Match")
	}
	ctx, cancel := ask(c)
	defer cancel()
	var stale *store.StaleError
	if err := s.Store.KeepMeter(ctx, from, profile); errors.As(err, &stale) {
		return problem(http.StatusPreconditionFailed, "The meter was described elsewhere in the meantime.", "look at what it is now, then make your change again")
	} else if err != nil {
		return err
	}
	return s.getMeter(c)
}
