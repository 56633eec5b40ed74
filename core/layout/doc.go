// Package layout groups the breadboard: which hole each leg goes into, and the drawing of it.
//
// The question: Where does it go, and is what was built what was planned?
//
//   - [cablaggio/core/layout/placement]: nets → holes and wires; legs and wires as built → nets, and what differs
//   - [cablaggio/core/layout/holemap]: the drawing of it, as marks and as SVG
//
// It may lean on: general, values, catalogue, document, electric.
package layout
