// Package running groups programs: a board in virtual time, the wiring around it with hands at
// it, what a program does there, and whether it does what it should.
//
// The question: What happens when the program runs?
//
//   - [cablaggio/core/running/machine]: a board in virtual time; programs in WebAssembly on it
//   - [cablaggio/core/running/rig]: a wiring with hands at it: the world that a board stands in; registers, noise, lamps
//   - [cablaggio/core/running/program]: what a program does on a wiring; its rules; starters and test programs
//   - [cablaggio/core/running/bench]: actions of hands; runs, at once or watched as they go; recordings as VCD, CSV, JSON
//   - [cablaggio/core/running/should]: sentences of what a build should do; tried with hands, shrunk to the shortest run
//
// It may lean on: general, values, catalogue, document, electric, layout, planning, judgement.
package running
