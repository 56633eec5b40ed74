package diagnose

import "regexp"

// sayings are words for what a thing does, with each not written out; the longest that is found counts.
var sayings = []struct{ say, means string }{
	{"does not turn on", dark}, {"will not turn on", dark}, {"never turns on", dark}, {"can not be switched on", dark}, {"is not on", dark},
	{"fails to light", dark}, {"not working", dark}, {"does not work", dark}, {"will not work", dark}, {"is broken", dark}, {"burnt out", dark}, {"burned out", dark}, {"burns out", dark}, {"blown", dark}, {"went out", dark},
	{"does not turn off", lit}, {"will not turn off", lit}, {"never turns off", lit}, {"does not go off", lit}, {"will not go out", lit}, {"does not go out", lit}, {"can not be switched off", lit}, {"on all the time", lit}, {"lit all the time", lit}, {"constantly on", lit}, {"permanently on", lit},
	{"does not light", dark}, {"will not light", dark}, {"never lights", dark}, {"not lit", dark}, {"is not lit", dark}, {"is out", dark}, {"not on", dark},
	{"never comes on", dark}, {"does not come on", dark}, {"will not come on", dark}, {"does not glow", dark}, {"stays out", dark}, {"does nothing", dark}, {"stays dark", dark}, {"is off", dark}, {"stays off", dark}, {"dark", dark}, {"dead", dark}, {"silent", dark}, {"still", dark}, {"does not sound", dark}, {"does not run", dark}, {"makes no sound", dark}, {"no sound", dark}, {"no tone", dark}, {"hear nothing", dark}, {"quiet", dim}, {"faintly", faint},
	{"hardly", faint}, {"faint", faint}, {"glows a little", faint}, {"glimmers", faint},
	{"weak", dim}, {"half bright", dim}, {"half as bright", dim}, {"only half", dim}, {"weakly", dim}, {"dimly", dim}, {"dimmer", dim}, {"weaker", dim}, {"dim", dim}, {"too dark", dim}, {"not very bright", dim}, {"not bright", dim}, {"not bright enough", dim}, {"not as bright", dim}, {"not so bright", dim}, {"less bright", dim}, {"barely", faint},
	{"too bright", bright}, {"very bright", bright},
	{"brighter than", bright}, {"dimmer than", dim}, {"darker than", dim}, {"goes on by itself", flickers}, {"comes on by itself", flickers}, {"turns on by itself", flickers}, {"goes out by itself", flickers}, {"cuts out", flickers},
	{"flickers", flickers}, {"now and then", flickers}, {"comes and goes", flickers}, {"jumps", flickers}, {"blinks by itself", flickers},
	{"lights", lit}, {"glows", lit}, {"never goes off", lit}, {"always lit", lit}, {"always on", lit}, {"stays lit", lit}, {"stays on", lit}, {"never goes out", lit}, {"lit", lit}, {"works", lit}, {"bright", lit},
	{"jumps", jumps}, {"chatters", jumps}, {"changes by itself", jumps}, {"noise", jumps},
	{"always low", readsLow}, {"reads low", readsLow}, {"low", readsLow},
	{"always high", readsHigh}, {"reads high", readsHigh}, {"high", readsHigh},
	{"always pressed", asUsed}, {"reads pressed", asUsed}, {"always closed", asUsed}, {"reads closed", asUsed}, {"stuck", asUsed},
	{"never pressed", asLeft}, {"has no effect", asLeft}, {"no effect", asLeft}, {"does not work", asLeft}, {"not working", asLeft}, {"does not do anything", asLeft}, {"does not react", asLeft}, {"does not respond", asLeft}, {"is ignored", asLeft}, {"is dead", asLeft}, {"is broken", asLeft}, {"reads released", asLeft}, {"always open", asLeft}, {"never closed", asLeft}, {"does nothing", asLeft}, {"no reaction", asLeft}, {"is not noticed", asLeft},
	{"nothing", nothing},
}

// What an input reads while its contact is used, or left alone, whatever level that is.
const (
	asUsed = "used"
	asLeft = "left"
)

// shaded are words for how something is lit, where it is not simply lit.
var shaded = regexp.MustCompile(`\b(?:weak|weakly|dim|dimly|faint|faintly|barely|hardly|flickers|flickering|too bright|not (?:very |as |so )?bright|less bright)\b`)

// unasked are words for that something is lit also when it should not be.
var unasked = regexp.MustCompile(`\b(?:always|stays|never|constantly|permanently|all the time|turn off|go off|go out|switched off)\b`)

// whole is that nothing of it all works.
var whole = regexp.MustCompile(`(?i)^(?:nothing (?:works|lights(?: up)?|happens|is lit|comes on|at all)|everything (?:is|stays) (?:dark|dead|off|out)|it (?:does nothing|does not do (?:a thing|anything)|doesn't do (?:a thing|anything)|is dead|is all dark)|none of (?:the )?(?:lamps|leds) (?:lights?|works?|is lit|comes? on)|no (?:lamp|led) (?:lights|is lit|works|comes on)|the board (?:is dead|does nothing)|(?:the )?lamps (?:are|stay) (?:all )?(?:dark|off|out))(?: up| at all)?$`)
