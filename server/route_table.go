package server

import (
	"net/http"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/output/todo"
	"cablaggio/core/planning/phrase"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// routes is every route but the description itself.
func routes() []route {
	return []route{
		{
			method: http.MethodGet, path: "/api/health", id: "health", handle: (*server).health,
			does:  "Whether the server and its database are up",
			gives: Health{},
			plain: true,
		},
		{
			method: http.MethodGet, path: "/api/library", id: "library", handle: (*server).library,
			does:  "The boards and kinds of parts",
			gives: Library{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/phrase", id: "phrase", handle: (*server).phrase,
			does: "What is understood of parts as people say them",
			takes: struct {
				Text string `query:"text"`
			}{}, gives: phrase.Phrase{},
		},
		{
			method: http.MethodGet, path: "/api/starts", id: "starts", handle: (*server).listStarts,
			does:  "Ready builds to begin from",
			gives: StartList{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/drawer", id: "drawer", handle: (*server).getDrawer,
			does:  "What the builder owns",
			gives: DrawerView{}, tagged: true,
		},
		{
			method: http.MethodPut, path: "/api/drawer", id: "fillDrawer", handle: (*server).putDrawer,
			does: "The drawer's whole content",
			takes: struct {
				IfMatch string `header:"If-Match"`
				DrawerView
			}{}, gives: DrawerView{},
		},
		{
			method: http.MethodGet, path: "/api/meter", id: "meter", handle: (*server).getMeter,
			does:  "The meter that readings are expected of: the builder's own, or a usual one",
			gives: MeterView{}, tagged: true,
		},
		{
			method: http.MethodPut, path: "/api/meter", id: "keepMeter", handle: (*server).putMeter,
			does: "The builder's own meter, as its leaflet describes it",
			takes: struct {
				IfMatch string `header:"If-Match"`
				meter.Instrument
			}{}, gives: MeterView{},
		},
		{
			method: http.MethodPatch, path: "/api/meter", id: "setMeter", handle: (*server).setMeter,
			does: "One thing that its leaflet says, as it is typed",
			takes: struct {
				IfMatch string `header:"If-Match"`
				MeterField
			}{}, gives: MeterView{},
		},
		{
			method: http.MethodDelete, path: "/api/meter", id: "dropMeter", handle: (*server).dropMeter,
			does: "Assume a usual meter again",
			takes: struct {
				IfMatch string `header:"If-Match"`
			}{}, gives: MeterView{},
		},
		{
			method: http.MethodGet, path: "/api/drawer/file", id: "exportDrawer", handle: (*server).exportDrawer,
			does:  "The drawer as CSV",
			files: []string{csvType},
		},
		{
			method: http.MethodPost, path: "/api/drawer/read", id: "readDrawer", handle: (*server).readDrawer,
			does:  "What a table of parts holds; nothing is taken",
			takes: Text{}, gives: DrawerView{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/revisions", id: "revisions", handle: (*server).listRevisions,
			does: "The history of a build, a page at a time",
			takes: struct {
				byID
				Before int `query:"before"`
			}{}, gives: RevisionList{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/revisions/{n}", id: "revision", handle: (*server).getRevision,
			does: "An earlier state, and what is different in it",
			takes: struct {
				byID
				N int `path:"n"`
			}{}, gives: RevisionDetail{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/boards", id: "compareBoards", handle: (*server).compareBoards,
			does:  "What would be different on each board",
			takes: byID{}, gives: []Comparison{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/shopping", id: "shopping", handle: (*server).getShopping,
			does:  "What the build needs beside what the drawer has",
			takes: byID{}, gives: []shopping.Line{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/shopping/file/{format}", id: "exportShopping", handle: (*server).exportShopping,
			does: "The same as a file: shopping.csv or shopping.pdf",
			takes: struct {
				byID
				Format string `path:"format"`
			}{}, files: []string{csvType, pdfType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/assembly", id: "assembly", handle: (*server).assemble,
			does:  "The build on the breadboard: placement, steps, what was really built",
			takes: byID{}, gives: AssemblyView{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/next", id: "next", handle: (*server).next,
			does:  "What is to be done next with the build, and how far each of its sections is, by what is known",
			takes: byID{}, gives: todo.List{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/pins", id: "readPins", handle: (*server).readPins,
			does: "What a pin table would move; nothing is taken",
			takes: struct {
				byID
				Text
			}{}, gives: PinTable{},
		},
		{
			method: http.MethodPost, path: "/api/boards", id: "keepBoard", handle: (*server).keepBoard,
			does: "A board that the builder described, in the open format; with If-Match in place of what it was",
			takes: struct {
				IfMatch string `header:"If-Match"`
				board.Profile
			}{}, gives: board.Profile{}, status: http.StatusCreated,
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodGet, path: "/api/boards/{board}/file", id: "exportBoard", handle: (*server).exportBoard,
			does:  "A board as a file in the open format",
			takes: byBoard{}, tagged: true,
			files: []string{jsonType},
		},
		{
			method: http.MethodDelete, path: "/api/boards/{board}", id: "dropBoard", handle: (*server).dropBoard,
			does:  "Forget a board of the builder's own",
			takes: byBoard{}, status: http.StatusNoContent,
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodPost, path: "/api/leaflet", id: "readLeaflet", handle: (*server).readLeaflet,
			does:  "The kind of part that a leaflet describes; nothing is kept",
			takes: part.Leaflet{}, gives: part.File{},
		},
		{
			method: http.MethodPost, path: "/api/kinds", id: "keepKind", handle: (*server).keepKind,
			does: "A kind of part that the builder described, in the open format; with If-Match in place of what it was",
			takes: struct {
				IfMatch string `header:"If-Match"`
				part.File
			}{}, gives: part.File{}, status: http.StatusCreated,
		},
		{
			method: http.MethodGet, path: "/api/kinds/{kind}/file", id: "exportKind", handle: (*server).exportKind,
			does:  "A kind of part as a file in the open format",
			takes: byKind{}, tagged: true,
			files: []string{jsonType},
		},
		{
			method: http.MethodDelete, path: "/api/kinds/{kind}", id: "dropKind", handle: (*server).dropKind,
			does:  "Forget a kind of part of the builder's own; builds that have one keep it",
			takes: byKind{}, status: http.StatusNoContent,
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodGet, path: "/api/builds", id: "listBuilds", handle: (*server).listBuilds,
			does: "The builds, the last changed first, a page at a time",
			takes: struct {
				Search string `query:"search"`
				Bin    bool   `query:"bin"`
				Skip   int    `query:"skip"`
			}{}, gives: BuildList{}, tagged: true,
		},
		{
			method: http.MethodPost, path: "/api/builds", id: "createBuild", handle: (*server).createBuild,
			does: "A new build",
			takes: struct {
				byKey
				NewBuild
			}{}, gives: BuildView{}, status: http.StatusCreated,
		},
		{
			method: http.MethodPost, path: "/api/builds/read", id: "readBuild", handle: (*server).readBuild,
			does:  "What a build in a file is; nothing is taken",
			takes: NewBuild{}, gives: Preview{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}", id: "getBuild", handle: (*server).getBuild,
			does:  "One build with its analysis",
			takes: byID{}, gives: BuildView{},
		},
		{
			method: http.MethodDelete, path: "/api/builds/{id}", id: "deleteBuild", handle: (*server).deleteBuild,
			does:  "Take a build out of the list",
			takes: byID{}, status: http.StatusNoContent,
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/controls", id: "controls", handle: (*server).controls,
			does:  "What can be set in the circuit of a build",
			takes: byID{}, gives: ControlList{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/files/netlist", id: "exportNetlist", handle: (*server).exportNetlist,
			does: "The circuit as a netlist, in the named state and corner",
			takes: struct {
				byID
				Set    []string `query:"set"`
				Corner string   `query:"corner"`
			}{}, files: []string{plainType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/files/{format}", id: "exportBuild", handle: (*server).exportBuild,
			does: "The build as a file: document, analysis, a table, a booklet or a drawing",
			takes: struct {
				byID
				Format string `path:"format"`
			}{},
			files: []string{jsonType, csvType, pdfType, svgType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/archive", id: "exportArchive", handle: (*server).exportArchive,
			does:  "The build with its log, pictures and board, as one ZIP file",
			takes: byID{}, files: []string{zipType},
		},
		{
			method: http.MethodPost, path: "/api/archives", id: "importArchive", handle: (*server).importArchive,
			does:  "Import such a file as a new build; the body is the file",
			takes: byKey{}, gives: BuildView{}, status: http.StatusCreated,
			body: []string{zipType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/program", id: "program", handle: (*server).checkProgram,
			does:  "What the build's program does on its wiring, and what does not fit",
			takes: byID{}, gives: program.Analysis{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/program", id: "tryProgram", handle: (*server).tryProgram,
			does: "The same of a program that is not kept",
			takes: struct {
				byID
				build.Program
			}{}, gives: program.Analysis{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/program/starter", id: "starter", handle: (*server).starter,
			does: "A program to begin with, or one that tries each part",
			takes: struct {
				byID
				Language build.Language `query:"language"`
				Test     bool           `query:"test"`
			}{}, gives: build.Program{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/hands", id: "hands", handle: (*server).hands,
			does:  "What hands move on the bench",
			takes: byID{}, gives: HandList{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/run", id: "run", handle: (*server).run,
			does: "The build runs on the bench, with hands at it",
			takes: struct {
				byID
				Running
			}{}, gives: bench.Recording{}, files: []string{plainType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/bench", id: "watchBench", handle: (*server).watchBench,
			does: "A run that goes on while it is watched, with hands at it: a WebSocket, whose messages are updates from the server and wishes to it",
			takes: struct {
				byID
				Session string `query:"session"`
				Built   bool   `query:"built"`
				Bare    bool   `query:"bare"`
				Program string `query:"program"`
			}{}, gives: LiveTalk{}, status: http.StatusSwitchingProtocols,
			refuses: []int{http.StatusUpgradeRequired},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/should", id: "should", handle: (*server).should,
			does: "Whether the build does what it should, with many hands at it",
			takes: struct {
				byID
				Sayings
			}{}, gives: Verdicts{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/checks", id: "checks", handle: (*server).listChecks,
			does:  "What to measure, and what the meter must read",
			takes: byID{}, gives: meter.List{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/supply", id: "readSupply", handle: (*server).readSupply,
			does:  "What readings say together that the build is fed with",
			takes: byID{}, gives: SupplyRead{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/diagnosis", id: "diagnose", handle: (*server).diagnose,
			does: "Which fault explains what was seen and read, and what to ask next",
			takes: struct {
				byID
				Observed
			}{}, gives: Diagnosis{},
		},
		{
			method: http.MethodGet, path: "/api/ports", id: "ports", handle: (*server).ports,
			does:  "The serial ports of this computer, at which a board may be; none is opened",
			gives: PortList{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/board/program", id: "probing", handle: (*server).probing,
			does: "The program that a board answers with, when it is asked over its cable",
			takes: struct {
				byID
				Language string `query:"language"`
			}{}, gives: build.Program{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/board", id: "askBoard", handle: (*server).askBoard,
			does: "What the board reads at its pins, asked over its cable, and what that tells of the wiring",
			takes: struct {
				byID
				BoardAsked
			}{}, gives: BoardAnswers{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/diagnosis/heard", id: "hear", handle: (*server).hear,
			does: "What is understood of what somebody says, or of what the console prints",
			takes: struct {
				byID
				Told
			}{}, gives: Heard{},
		},
		{
			method: http.MethodGet, path: "/api/drills", id: "drills", handle: (*server).listDrills,
			does:  "Lessons and builds in which a fault can be hidden",
			gives: DrillList{}, tagged: true,
		},
		{
			method: http.MethodGet, path: "/api/drills/record", id: "drillRecord", handle: (*server).drillRecord,
			does:  "How drills went",
			gives: DrillRecord{}, tagged: true,
		},
		{
			method: http.MethodPost, path: "/api/drills", id: "beginDrill", handle: (*server).beginDrill,
			does:  "A drill, by its lesson, by its code, or drawn",
			takes: NewDrill{}, gives: DrillView{},
			refuses: []int{http.StatusNotFound},
		},
		{
			method: http.MethodGet, path: "/api/drills/{code}/choices", id: "drillChoices", handle: (*server).drillChoices,
			does: "What can be asked at a part of a drill",
			takes: struct {
				byCode
				Part string `query:"part"`
			}{}, gives: DrillChoices{},
		},
		{
			method: http.MethodPost, path: "/api/drills/{code}/ask", id: "askDrill", handle: (*server).askDrill,
			does: "What the bench answers, with the fault in it",
			takes: struct {
				byCode
				DrillAsk
			}{}, gives: DrillAnswer{},
		},
		{
			method: http.MethodPost, path: "/api/drills/{code}/hint", id: "hintDrill", handle: (*server).hintDrill,
			does: "What the diagnosis would ask next",
			takes: struct {
				byCode
				Observed
			}{}, gives: DrillHint{},
		},
		{
			method: http.MethodPost, path: "/api/drills/{code}/name", id: "nameDrill", handle: (*server).nameDrill,
			does: "Whether it is that",
			takes: struct {
				byKey
				byCode
				DrillGuess
			}{}, gives: DrillEnd{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/log", id: "log", handle: (*server).listLog,
			does: "The log of a build, a page at a time, the newest first",
			takes: struct {
				byID
				Kind   string `query:"kind"`
				Part   string `query:"part"`
				Search string `query:"search"`
				Before int64  `query:"before"`
			}{}, gives: LogPage{}, tagged: true,
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/log", id: "keepEntry", handle: (*server).keepEntry,
			does: "A reading, which is judged, or a note",
			takes: struct {
				byID
				byKey
				NewEntry
			}{}, gives: LogEntry{}, status: http.StatusCreated,
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/log/pictures", id: "keepPicture", handle: (*server).keepPicture,
			does: "A picture, PNG, JPEG or WebP, as the body",
			takes: struct {
				byID
				byKey
				Text string `query:"text"`
				Part string `query:"part"`
			}{}, gives: LogEntry{}, status: http.StatusCreated,
			body: []string{"image/png", jpegType, "image/webp"},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/log/file/{format}", id: "exportLog", handle: (*server).exportLog,
			does: "The log as a file: log.pdf, readings.csv or log.json",
			takes: struct {
				byID
				Format string `path:"format"`
			}{}, files: []string{pdfType, csvType, jsonType},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/log/{entry}/picture", id: "picture", handle: (*server).picture,
			does: "The picture of an entry, as JPEG",
			takes: struct {
				byEntry
				Small bool `query:"small"`
			}{}, files: []string{jpegType},
		},
		{
			method: http.MethodDelete, path: "/api/builds/{id}/log/{entry}", id: "strikeEntry", handle: (*server).strikeEntry,
			does:  "Take an entry out of the log",
			takes: byEntry{}, status: http.StatusNoContent,
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/log/{entry}/restore", id: "restoreEntry", handle: (*server).restoreEntry,
			does:  "Put an entry back",
			takes: byEntry{}, status: http.StatusNoContent,
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/restore", id: "restoreBuild", handle: (*server).restoreBuild,
			does:  "Put a deleted build back",
			takes: byID{}, gives: BuildView{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/duplicate", id: "duplicateBuild", handle: (*server).duplicateBuild,
			does: "A copy as a new build",
			takes: struct {
				byID
				byKey
			}{}, gives: BuildView{}, status: http.StatusCreated,
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/edits", id: "editBuild", handle: (*server).editBuild,
			does: "Edits, all or none",
			takes: struct {
				byTag
				byKey
				Edits
			}{}, gives: BuildView{},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/undo", id: "undoBuild", handle: (*server).undoBuild,
			does:  "Show the revision before",
			takes: byTag{}, gives: BuildView{},
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodPost, path: "/api/builds/{id}/redo", id: "redoBuild", handle: (*server).redoBuild,
			does:  "Show the revision that was undone",
			takes: byTag{}, gives: BuildView{},
			refuses: []int{http.StatusConflict},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/resistors/{part}", id: "resistorChoice", handle: (*server).resistorChoice,
			does: "Values for a resistor side by side",
			takes: struct {
				byID
				Part string `path:"part"`
			}{}, gives: ResistorChoice{},
		},
		{
			method: http.MethodGet, path: "/api/builds/{id}/pins/{part}/{signal}", id: "pinChoices", handle: (*server).pinChoices,
			does: "Free pins for a signal, the best first",
			takes: struct {
				byID
				Part   string `path:"part"`
				Signal string `path:"signal"`
			}{}, gives: plan.Why{},
		},
	}
}

type byID struct {
	ID string `path:"id"`
}

type byCode struct {
	Code string `path:"code"`
}

type byKind struct {
	Kind string `path:"kind"`
}

type byBoard struct {
	Board string `path:"board"`
}

// Text is a file's text.
type Text struct {
	Text string `json:"text" required:"true"`
}

type byEntry struct {
	byID
	Entry int64 `path:"entry"`
}

type byTag struct {
	byID
	IfMatch string `header:"If-Match"`
}

type byKey struct {
	Key string `header:"Idempotency-Key"`
}
