// Package output groups what goes out of the program into the builder's hands: steps, tables, paper.
//
// The question: How do I take it to the bench?
//
//   - [cablaggio/core/output/assembly]: the steps; the report on a build on the breadboard
//   - [cablaggio/core/output/todo]: what is to be done next, and how far each section is
//   - [cablaggio/core/output/table]: parts list, pin table, wires as CSV; the pin table back
//   - [cablaggio/core/output/paper]: the plan, the steps, the log and the shopping list as PDF
//
// It may lean on: general, values, catalogue, document, electric, layout, planning, judgement, running, faults.
package output
