package main

import (
	"fmt"
	"io"
	"log/slog"
	"path/filepath"

	"gopkg.in/natefinch/lumberjack.v2"
)

// The log is kept small: a file of so many megabytes, and so many before it.
const (
	logMegabytes = 2
	logsBefore   = 3
)

// logLevels are what --log takes.
var logLevels = map[string]slog.Level{"debug": slog.LevelDebug, "info": slog.LevelInfo, "warn": slog.LevelWarn, "error": slog.LevelError}

// openLog returns the log of a server: a line of JSON for each thing from a level up, in a file
// in its data folder; what is a warning or worse is shown on the terminal, too.
func openLog(data, level string, terminal io.Writer) (*slog.Logger, io.Closer, error) {
	from, ok := logLevels[level]
	if !ok {
		return nil, nil, fmt.Errorf("there is no log %q; it is debug, info, warn or error", level)
	}
	file := &lumberjack.Logger{Filename: filepath.Join(data, "cablaggio.log"), MaxSize: logMegabytes, MaxBackups: logsBefore}
	return slog.New(slog.NewMultiHandler(
		slog.NewJSONHandler(file, &slog.HandlerOptions{Level: from}),
		slog.NewTextHandler(terminal, &slog.HandlerOptions{Level: max(from, slog.LevelWarn)}),
	)), file, nil
}
