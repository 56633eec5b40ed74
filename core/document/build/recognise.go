package build

import (
	"regexp"
	"strings"
)

var (
	boardModules   = regexp.MustCompile(`(?m)^\s*(?:import|from)\s+(?:.*\b)?(board|digitalio|analogio|pwmio|countio)\b`)
	machineModules = regexp.MustCompile(`(?m)^\s*(?:import|from)\s+(?:.*\b)?u?machine\b`)
	pythonLine     = regexp.MustCompile(`(?m)^\s*(?:import \w+|from \w+ import|def \w+\(.*\):|while .+:|if .+:|for .+ in .+:)\s*(?:#.*)?$`)
	cppLine        = regexp.MustCompile(`(?m)^\s*(?:#include|#define|void\s+\w+\s*\()|;\s*$`)
)

// Recognise finds out in which language a text is written, by the name of its file and by
// what stands in it.
func Recognise(file, text string) Language {
	switch {
	case boardModules.MatchString(text) && !machineModules.MatchString(text):
		return PythonBoard
	case machineModules.MatchString(text):
		return PythonMachine
	case strings.HasSuffix(file, ".py"):
		return PythonMachine
	case strings.HasSuffix(file, ".cpp") || strings.HasSuffix(file, ".h"):
		return CPP
	case len(pythonLine.FindAllString(text, -1)) > len(cppLine.FindAllString(text, -1)):
		return PythonMachine
	}
	return CPP
}
