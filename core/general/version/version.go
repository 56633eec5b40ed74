// Package version says which Cablaggio this is.
package version

import "runtime/debug"

// Number is the version, as the changelog has it.
const Number = "0.9.0"

// Name is the program with its version, as it stands on paper and in files.
const Name = "Cablaggio " + Number

// Whole is the name with the state of the source that the program was built from, where that
// is known.
func Whole() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return Name
	}
	revision, changed := "", ""
	for _, s := range info.Settings {
		switch {
		case s.Key == "vcs.revision" && len(s.Value) >= 10:
			revision = s.Value[:10]
		case s.Key == "vcs.modified" && s.Value == "true":
			changed = ", changed since"
		}
	}
	if revision == "" {
		return Name
	}
	return Name + " (" + revision + changed + ")"
}
