// Package faults groups what can be wrong on the bench: the faults themselves, what a meter must
// read, which fault explains what was seen, and faults hidden for practice.
//
// The question: Why does it not work?
//
//   - [cablaggio/core/faults/fault]: what can be wrong on the bench and in the program, each a change of the network, the document or the pins
//   - [cablaggio/core/faults/meter]: instruments; what a reading must be; the checks that show every fault; verdicts
//   - [cablaggio/core/faults/diagnose]: what was seen and read → the faults that explain it; what to ask next
//   - [cablaggio/core/faults/drill]: a hidden fault; lessons, codes
//
// It may lean on: general, values, catalogue, document, electric, layout, planning, judgement, running.
package faults
