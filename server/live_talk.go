package server

import (
	"context"
	"net/http"
	"time"

	"github.com/gofiber/contrib/v3/websocket"
	"github.com/gofiber/fiber/v3"

	"cablaggio/core/document/build"
	"cablaggio/core/running/bench"
)

const (
	readsAtMost = build.MaxBytes // of one wish
	writeTime   = 10 * time.Second
	pingEvery   = 20 * time.Second
	silence     = 60 * time.Second
)

// watchBench lets somebody watch a run of a build, who has hands at it: by WebSocket. Why there
// is none is told on the connection, for a browser shows nobody why one was refused.
func (s *server) watchBench(c fiber.Ctx) error {
	if !websocket.IsWebSocketUpgrade(c) {
		return problem(http.StatusUpgradeRequired, "This address is spoken to by WebSocket.", "a run at once is had from /run")
	}
	run, refused := s.session(c)
	return websocket.New(func(conn *websocket.Conn) {
		if refused != nil {
			p := explain(refused)
			_ = conn.SetWriteDeadline(time.Now().Add(writeTime))
			_ = conn.WriteJSON(LiveUpdate{Refused: true, Problem: p.words()})
			return
		}
		talk(conn, run)
	})(c)
}

// session is the run that a request names, or a new one.
func (s *server) session(c fiber.Ctx) (*session, error) {
	if run := s.live.join(c.Query("session"), c.Params("id")); run != nil {
		return run, nil
	}
	_, lib, doc, err := s.opened(c)
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(c.Context(), runPatience)
	defer cancel()
	if err := s.programFor(ctx, lib, doc, c.Query("bare") == "true", c.Query("program")); err != nil {
		return nil, err
	}
	net, made, err := s.onBench(ctx, lib, doc, c.Query("built") == "true")
	if err != nil {
		return nil, err
	}
	return s.live.begin(c.Params("id"), net, made, bench.Options{Lasts: liveLasts, Seed: 1})
}

// talk tells updates and takes wishes, until the connection is gone.
func talk(conn *websocket.Conn, run *session) {
	w := &watcher{make(chan []byte, backlog)}
	if !run.ask(func() { run.watch(w) }) {
		return
	}
	gone := make(chan struct{})
	go func() {
		defer close(gone)
		defer conn.Close()
		ping := time.NewTicker(pingEvery)
		defer ping.Stop()
		for {
			var err error
			select {
			case data, open := <-w.updates:
				if !open {
					return
				}
				_ = conn.SetWriteDeadline(time.Now().Add(writeTime))
				err = conn.WriteMessage(websocket.TextMessage, data)
			case <-ping.C:
				err = conn.WriteControl(websocket.PingMessage, nil, time.Now().Add(writeTime))
			}
			if err != nil {
				return
			}
		}
	}()
	conn.SetReadLimit(readsAtMost)
	_ = conn.SetReadDeadline(time.Now().Add(silence))
	conn.SetPongHandler(func(string) error { return conn.SetReadDeadline(time.Now().Add(silence)) })
	for {
		_, data, err := conn.ReadMessage()
		if err != nil {
			break
		}
		_ = conn.SetReadDeadline(time.Now().Add(silence))
		var wish LiveWish
		wrong := build.Decode(data, &wish)
		run.ask(func() {
			switch {
			case wrong != nil:
				run.sendTo(w, LiveUpdate{Problem: sentence(wrong.Error())})
			case wish.Do == "leave" && len(run.watchers) == 1:
				run.leaving = true
			default:
				run.fulfil(w, wish)
			}
		})
	}
	run.ask(func() { run.unwatch(w) })
	<-gone
}
