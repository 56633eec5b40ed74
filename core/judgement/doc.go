// Package judgement groups what is said of a plan: what burns, what cannot work, what is unwise,
// what would help; and what there is to be bought.
//
// The question: Will it work, and what would put it right?
//
//   - [cablaggio/core/judgement/check]: facts, rules, reports: the analysis
//   - [cablaggio/core/judgement/shopping]: what a build needs beside what the drawer has; what would do instead
//
// It may lean on: general, values, catalogue, document, electric, layout, planning.
package judgement
