package server

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"cablaggio/core/meter"
	"cablaggio/store"
)

// MeterView is the meter that readings are expected of.
type MeterView struct {
	Meter *meter.Instrument `json:"meter"`
	Own   bool              `json:"own"` // it is the builder's own, not a usual one
	Tag   string            `json:"tag"` // names this state of it; send it back as If-Match to change it
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
		out.Meter, err = meter.Parse(bytes.NewReader(profile))
	}
	return out, err
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
	data, err := json.Marshal(m)
	if err != nil {
		return err
	}
	return s.keepMeter(c, data)
}

// dropMeter goes back to a usual meter.
func (s *server) dropMeter(c fiber.Ctx) error { return s.keepMeter(c, nil) }

func (s *server) keepMeter(c fiber.Ctx, profile []byte) error {
	from, err := strconv.ParseInt(strings.Trim(c.Get("If-Match"), `"`), 10, 64)
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
