// Package link talks with boards at the other end of a serial cable: which ports there are, and one
// that is opened. What goes over it is of package probe.
package link

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"slices"
	"strings"
	"syscall"

	"go.bug.st/serial"
	"go.bug.st/serial/enumerator"
)

// Rate is how many bits a second go over the cable of the probing program.
const Rate = 115200

// A Port is where a board may be.
type Port struct {
	Name string `json:"name"`           // as it is opened
	What string `json:"what,omitempty"` // what it says that it is, with its maker's numbers
}

// Ports lists the ports of this computer, by name. It opens none.
func Ports() ([]Port, error) {
	list, err := enumerator.GetDetailedPortsList()
	if err != nil {
		return nil, fmt.Errorf("the ports of this computer cannot be listed: %w", err)
	}
	out := []Port{}
	for _, p := range list {
		x := Port{Name: p.Name}
		if p.IsUSB {
			x.What = strings.TrimSpace(fmt.Sprintf("%s %s:%s", p.Product, strings.ToLower(p.VID), strings.ToLower(p.PID)))
		}
		out = append(out, x)
	}
	slices.SortFunc(out, func(a, b Port) int { return strings.Compare(a.Name, b.Name) })
	return out, nil
}

// Open opens a port for nobody else, at a rate. A board may begin anew by it. Its error says what
// would be right.
func Open(name string, rate int) (io.ReadWriteCloser, error) {
	// Nothing else is opened: a pipe would wait for somebody, and a file is not to be written over.
	if info, err := os.Stat(name); err == nil && info.Mode()&os.ModeCharDevice == 0 {
		return nil, fmt.Errorf("%s is no serial port", name)
	}
	p, err := serial.Open(name, &serial.Mode{BaudRate: rate})
	if err == nil {
		return p, nil
	}
	code := serial.PortErrorCode(-1)
	if e := (*serial.PortError)(nil); errors.As(err, &e) {
		code = e.Code()
	}
	switch {
	case code == serial.PortNotFound, errors.Is(err, fs.ErrNotExist):
		return nil, fmt.Errorf("there is no port %s: is the board plugged in?", name)
	case code == serial.PortBusy, errors.Is(err, syscall.EBUSY):
		return nil, fmt.Errorf("another program has opened %s: close what watches the board, and try again", name)
	case code == serial.PermissionDenied, errors.Is(err, fs.ErrPermission):
		return nil, fmt.Errorf("this account may not open %s: on Debian it must be in the group dialout, from the next time that you log in on", name)
	case code == serial.InvalidSerialPort, errors.Is(err, syscall.ENOTTY):
		return nil, fmt.Errorf("%s is no serial port", name)
	}
	return nil, fmt.Errorf("%s cannot be opened: %w", name, err)
}
