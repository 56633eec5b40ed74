package wiring

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/electric/circuit"
)

// What is solved of one piece is taken for another with the same key, so all that a
// solution depends on must be in it.
func TestKeysTellPiecesApart(t *testing.T) {
	base := func() *shape {
		return &shape{
			circuit: circuit.Circuit{Elements: []circuit.Element{{Kind: circuit.Resistor, A: 1, Value: 10}}},
			parts: []shapePart{{param: 0, control: 0, law: law{kind: overOhms, a: 1, b: 2, c: 3},
				switching: switching{on: 1, scale: response{kind: between, a: 1, b: 2, most: 3}}}},
			params:  []tolerance{{1, 2, 3}},
			choices: []localChoice{{controls: []int{0}, options: [][]float64{{0}, {1}}}},
			middle:  2.5,
		}
	}
	first := base().key()
	assert.Equal(t, first, base().key())
	for name, change := range map[string]func(*shape){
		"value":    func(m *shape) { m.circuit.Elements[0].Value = 11 },
		"end":      func(m *shape) { m.circuit.Elements[0].B = 2 },
		"law a":    func(m *shape) { m.parts[0].law.a = 4 },
		"law b":    func(m *shape) { m.parts[0].law.b = 4 },
		"law c":    func(m *shape) { m.parts[0].law.c = 4 },
		"on":       func(m *shape) { m.parts[0].on = 2 },
		"keys":     func(m *shape) { m.parts[0].key = true },
		"scale":    func(m *shape) { m.parts[0].scale.kind = linear },
		"scale a":  func(m *shape) { m.parts[0].scale.a = 4 },
		"scale b":  func(m *shape) { m.parts[0].scale.b = 4 },
		"most":     func(m *shape) { m.parts[0].scale.most = 4 },
		"low":      func(m *shape) { m.params[0].low = 0 },
		"options":  func(m *shape) { m.choices[0].options[1][0] = 2 },
		"previous": func(m *shape) { m.previous = []previous{{0, 1}} },
		"middle":   func(m *shape) { m.middle = 1.6 },
		"hurry":    func(m *shape) { m.hurried = true },
	} {
		m := base()
		change(m)
		assert.NotEqual(t, first, m.key(), name)
	}
}
