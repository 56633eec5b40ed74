// Package general groups what has nothing to do with electronics: things that are done side
// by side, what hangs together, pictures that a camera made.
//
// The question: How is it done without a word about the job?
//
//   - [cablaggio/core/general/parallel]: things done side by side
//   - [cablaggio/core/general/union]: what hangs together
//   - [cablaggio/core/general/picture]: pictures upright, smaller, and bare
//   - [cablaggio/core/general/version]: which Cablaggio this is
//
// It leans on nothing of ours.
package general
