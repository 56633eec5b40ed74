package probe

import (
	"context"
	"fmt"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/faults/diagnose"
)

// A WrongBoardError is of a board that is another one than the build's.
type WrongBoardError struct{ Is, Wants string }

func (e *WrongBoardError) Error() string {
	return fmt.Sprintf("the program on the board was made for %q, and the build is on %q: load the one for this board", e.Is, e.Wants)
}

const (
	mostReads = 8 // of a pin, until it has come to rest
	alike     = 4 // that must be the same
)

// Interview asks a board all that it can be asked without anybody, or what is asked while somebody
// does what [diagnose.PinAsk.Hand] names; and tells how many of how many are answered. It pulls, and drives nothing. Where it breaks off, the board lets go of what was pulled by
// itself, a second later.
func (b *Board) Interview(ctx context.Context, profile *board.Profile, asks []diagnose.PinAsk, hand string, tell func(done, of int)) ([]diagnose.Observation, error) {
	if b.ID != profile.ID {
		return nil, &WrongBoardError{b.ID, profile.ID}
	}
	pins := Pins(profile)
	var alone []diagnose.PinAsk
	for _, a := range asks {
		if a.Hand() == hand && slices.ContainsFunc(pins, func(p board.Pin) bool { return p.Name == a.Pin }) {
			alone = append(alone, a)
		}
	}
	seen := []diagnose.Observation{}
	for i, a := range alone {
		o, err := b.Answer(ctx, profile, a)
		if err != nil {
			return seen, err
		}
		seen = append(seen, o)
		tell(i+1, len(alone))
	}
	return seen, nil
}

// Answer asks one thing of a board, and lets the pin go again.
func (b *Board) Answer(ctx context.Context, profile *board.Profile, a diagnose.PinAsk) (o diagnose.Observation, err error) {
	pin := profile.Number(a.Pin)
	o.Ask = a.ID
	if a.Analog {
		share, err := b.Share(ctx, pin)
		o.Answer = diagnose.ShareName(share)
		return o, err
	}
	if err := b.Pull(ctx, pin, a.Pull); err != nil {
		return o, err
	}
	if o.Answer, err = b.rests(ctx, pin); err != nil {
		return o, err
	}
	return o, b.Pull(ctx, pin, "")
}

// rests reads a pin until it stays what it is: what hangs there may take its time.
func (b *Board) rests(ctx context.Context, pin int) (string, error) {
	same, was := 0, false
	for i := range mostReads {
		high, err := b.Read(ctx, pin)
		if err != nil {
			return "", err
		}
		if same++; i > 0 && high != was {
			same = 1
		}
		if was = high; same == alike {
			return map[bool]string{true: "high", false: "low"}[high], nil
		}
	}
	return "jumps", nil
}
