// Package core groups the job: what is computed about a build. It knows nothing of HTTP,
// SQL, files of the interface or processes.
//
// Its packages stand in groups, in the order of the work, each of which leans on those before
// it alone; a test keeps it so. Each group has a page of its own, with its question, its
// packages and an example:
//
//   - [cablaggio/core/general]: what has nothing to do with electronics
//   - [cablaggio/core/values]: how large is it, and what does that look like
//   - [cablaggio/core/catalogue]: what is there to build with
//   - [cablaggio/core/document]: what did the builder say
//   - [cablaggio/core/electric]: which voltages and currents are there
//   - [cablaggio/core/layout]: where does it go on the breadboard
//   - [cablaggio/core/planning]: what shall it be
//   - [cablaggio/core/judgement]: will it work, and what would put it right
//   - [cablaggio/core/running]: what happens when the program runs
//   - [cablaggio/core/faults]: why does it not work
//   - [cablaggio/core/output]: how does it get to the bench
package core
