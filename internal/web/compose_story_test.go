package web

import (
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"

	"zestysketch/internal/core/grid"
)

// grip moves the middle of a part of the viewfinder by so many screen pixels.
func (s *screen) grip(selector string, dx, dy float64) {
	s.t.Helper()
	e := s.page.MustElement(selector)
	e.MustScrollIntoView()
	box := e.MustShape().Box()
	x, y := box.X+box.Width/2, box.Y+box.Height/2
	answered := s.page.MustWaitRequestIdle()
	s.page.Mouse.MustMoveTo(x, y).MustDown(proto.InputMouseButtonLeft)
	if err := s.page.Mouse.MoveLinear(proto.NewPoint(x+dx, y+dy), 8); err != nil {
		s.t.Fatal(err)
	}
	s.page.Mouse.MustUp(proto.InputMouseButtonLeft)
	answered()
}

// frame reads the frame that the form would send.
func (s *screen) frame() grid.Frame {
	s.t.Helper()
	text := s.page.MustElement("#f-frame").MustProperty("value").Str()
	f, err := grid.Request{Picture: [2]int{s.project.Picture.Width, s.project.Picture.Height}, Frame: text}.AskedFrame()
	if err != nil {
		s.t.Fatalf("frame %q: %v", text, err)
	}
	return *f
}

// A frame is made smaller, moved and turned by hand and by keys; it stays on
// the picture, can be taken back, kept aside, and becomes the plan.
func TestComposingAtAnAngle(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}?step=compose"))
	s.page.MustElement(".vf-body")
	s.grip(`.vf-grip[data-i="2"]`, -140, -170)
	smaller := s.frame()
	if smaller.Size[0] > 1500 || smaller.Size[1] > 1900 || !smaller.Inside() {
		t.Fatalf("made smaller: %+v", smaller)
	}
	s.page.MustElement("#angle").MustSelectAllText().MustInput("12").MustType(input.Tab)
	s.page.MustWait(`() => document.getElementById("f-frame").value.endsWith(" 12")`)
	s.page.MustWaitRequestIdle()()
	turned := s.frame()
	if turned.Angle != 12 || !turned.Inside() {
		t.Fatalf("turned: %+v", turned)
	}
	s.see(".frame-aside .cut", "The lamp")
	s.page.MustElement(".vf-body").MustFocus()
	s.page.Keyboard.MustType(input.ArrowRight, input.ArrowRight, input.ArrowDown)
	s.see("#undo", "Undo")
	s.page.MustWait(`(was) => document.getElementById("f-frame").value !== was`, turned.String())
	s.page.MustWaitRequestIdle()()
	moved := s.frame()
	if moved.Centre.X <= turned.Centre.X || moved.Size != turned.Size || !moved.Inside() {
		t.Errorf("moved by keys from %+v to %+v", turned, moved)
	}
	// The far corner dragged off the picture comes back onto it.
	s.grip(".vf-body", 900, 900)
	if f := s.frame(); !f.Inside() || f.Centre.X <= moved.Centre.X {
		t.Errorf("dragged away: %+v", f)
	}
	s.page.MustElement("#undo").MustClick()
	s.page.MustWaitRequestIdle()()
	if f := s.frame(); f.Centre.Sub(moved.Centre).Len() > 0.1 {
		t.Errorf("undone to %+v; want %+v", f, moved)
	}
	s.page.MustElement("#frame_name").MustInput("Askew")
	s.press("button", "Keep aside")
	s.see(".frame-aside .cut", "Askew")
	s.press("button", "Keep this plan")
	s.page.MustWaitRequestIdle()()
	s.step("Grid")
	s.see(".kept", "Kept")
	plan := s.kept()
	if plan.Frame.Angle != 12 || plan.Frame.Size != moved.Size {
		t.Errorf("kept %+v; want %+v", plan.Frame, moved)
	}
}

// kept returns the plan that is kept, through the file that the teacher gets.
func (s *screen) kept() grid.Plan {
	s.t.Helper()
	c := s.house.signIn("owner@quay.example")
	plan, err := grid.Decode([]byte(c.get(s.address("/projects/{project}/plan.json")).body))
	if err != nil {
		s.t.Fatal(err)
	}
	return plan
}

// One class from picture to card: rounding by a press, a grid from the
// ranking, a crowded box divided on the picture, marks by strip, and back.
func TestPlanningOneClass(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}?step=size"))
	s.page.MustElement("#f-sheet_square") // hidden here, but there
	s.step("Grid")
	s.page.MustElement("#f-sheet_square").MustSelectAllText().MustInput(" ")
	s.step("Size")
	s.see(".board", `7 : 9 = 12 : x`)
	s.press(".offers button", "Use")
	s.page.MustWait(`() => document.getElementById("f-round").value !== ""`)
	s.page.MustWaitRequestIdle()()
	s.step("Grid")
	s.unfold("summary", "Grids for this picture")
	s.press(".candidates button", "Use")
	s.page.MustWaitRequestIdle()()
	s.page.MustElement("details[open] .candidates .here") // it stays unfolded
	before := s.page.MustElement(".bigcount").MustText()
	// The grip on the first crossing, by keyboard.
	s.page.MustElement("#f-method").MustSelect("measured squares")
	s.page.MustWaitRequestIdle()()
	s.page.MustElement(".spacing").MustFocus()
	s.page.Keyboard.MustType(input.ArrowLeft, input.ArrowLeft, input.Enter)
	s.page.MustWaitRequestIdle()()
	if after := s.page.MustElement(".bigcount").MustText(); after == before {
		t.Errorf("%s before and after the grip was moved", before)
	}
	s.page.MustElement(`[data-box="B2"]`).MustClick()
	s.page.MustWait(`() => document.getElementById("f-split").value === "B2 2"`)
	s.page.MustWaitRequestIdle()()
	// The keyboard is still on the box: once more makes four of it.
	s.page.Keyboard.MustType(input.Enter)
	s.page.MustWait(`() => document.getElementById("f-split").value === "B2 4"`)
	s.page.MustWaitRequestIdle()()
	s.step("Marks")
	s.page.MustElement("#f-mark_by").MustSelect("printed strip, no ruler")
	s.see(".steps", "Zero is at the very end of the strip")
	s.see(".steps", "B2 in 4")
	s.press("button", "Keep this plan")
	s.see(".kept", "Kept")
	if plan := s.kept(); plan.Grid.Split["B2"] != 4 || plan.Ruler.Way != grid.ByStrip || plan.Typed.Round == "" {
		t.Errorf("kept %+v", plan.Typed)
	}
	// All the way back, and forward again.
	for !s.page.MustElement("#undo").MustProperty("disabled").Bool() {
		s.page.MustElement("#undo").MustClick()
		s.page.MustWaitRequestIdle()()
	}
	if split := s.page.MustElement("#f-split").MustProperty("value").Str(); split != "" {
		t.Errorf("undone to the start, the split is %q", split)
	}
	s.page.MustElement("#redo").MustClick()
	s.page.MustWaitRequestIdle()()
}

// Bare numbers keep their meaning when another unit is looked at.
func TestUnitsDoNotDrift(t *testing.T) {
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}?step=size"))
	s.page.MustElement("#f-reference").MustSelectAllText().MustInput("7 × 9")
	s.page.MustWaitRequestIdle()()
	s.page.MustElement("#f-units").MustSelect("cm")
	s.see(".facts", "17.8 × 22.85 cm")
	s.page.MustWait(`() => document.getElementById("f-reference").value === "7 × 9 in"`)
	s.page.MustElement("#f-units").MustSelect("in")
	s.see(".facts", "7 × 9 in")
}

// A picture dropped on the page, or pasted, lands in the form.
func TestDropAndPaste(t *testing.T) {
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit("/library")
	for _, kind := range []string{"drop", "paste"} {
		s.page.MustEval(`(kind, name) => {
			const data = new DataTransfer();
			data.items.add(new File([new Uint8Array([1, 2, 3])], name, { type: "image/png" }));
			const event = kind === "drop" ? new DragEvent("drop", { dataTransfer: data, bubbles: true, cancelable: true }) : new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true });
			document.body.dispatchEvent(event);
		}`, kind, kind+".png")
		if got := s.page.MustEval(`() => document.getElementById("picture").files[0]?.name`).Str(); got != kind+".png" {
			t.Errorf("after a %s the form has %q", kind, got)
		}
	}
	s.press("button", "Take it in")
	s.see("#message", "not a picture we can read")
}

// Whoever types and keeps at once sees that it was kept: the page that typing asked for does
// not come after it and wipe the word away.
func TestKeptStays(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}?step=grid"))
	s.page.MustWaitRequestIdle()()
	s.page.MustElement("#f-reference_square").MustSelectAllText().MustInput("1 1/2 in")
	s.page.MustEval(`() => document.getElementById("ask").requestSubmit()`) // before typing's own wait is over
	s.see(".kept", "Kept")
	time.Sleep(time.Second)
	if !s.page.MustHas(".kept") {
		t.Error("the word that it was kept is wiped away")
	}
	// Typed elsewhere and back, the page shows what stands in the field.
	for _, square := range []string{"1 in", "1 1/2 in"} {
		s.page.MustElement("#f-reference_square").MustSelectAllText().MustInput(square)
		s.see(".bigcount", map[string]string{"1 in": `7\s*×\s*9`, "1 1/2 in": `5\s*×\s*6`}[square])
	}
}
