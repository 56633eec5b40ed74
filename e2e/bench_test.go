package e2e

import (
	"testing"
)

// The build runs: a press does what it does on a real bench, and the strip shows it.
func TestBench(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	b.click("link", "Bench")
	b.see("button", "request button")
	b.click("button", "Run")
	b.until("time goes by", `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent) > 0.5`)
	b.press("1")
	b.says("a tram is asked to stop")
	b.until("the lamp is lit", `() => [...document.querySelectorAll('ul[aria-label="Lamps"] li')].some((l) => l.innerText.includes('stop request lamp') && parseInt(l.innerText.match(/(\d+) %/)?.[1] ?? '0') > 50)`)
	b.choose("Probe a voltage", "D12 · cathode of stop request lamp")
	b.see("button", "Take the probe off Voltage at D12")
	b.until("the voltage is shown", `() => [...document.querySelectorAll('section[aria-label="Rows"] tr')].some((r) => r.innerText.includes('Voltage at D12') && / m?V$/.test(r.innerText.trim()))`)
	b.click("button", "Take the probe off Voltage at D12")
	b.gone("button", "Take the probe off Voltage at D12")
	b.click("button", "Hold")
	b.see("button", "Run")
	b.click("button", "From the start")
	b.until("all begins anew", `() => !document.body.innerText.includes('a tram is asked to stop')`)
}
