// Package electric groups the circuit: how one is solved, and how a document becomes one.
//
// The question: Which voltages and currents are there, in every state and at every corner?
//
//   - [cablaggio/core/electric/circuit]: nodes, elements; the solution at rest, its tangent, steps through time
//   - [cablaggio/core/electric/wiring]: document → network; states and their addresses; worst corners, sums, changes, probes
//   - [cablaggio/core/electric/spice]: the circuit as a netlist
//
// It may lean on: general, values, catalogue, document.
package electric
