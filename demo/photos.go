package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand"
	"time"

	"uskel/core/audit"
	"uskel/core/photo"
	"uskel/core/vehicle"
	"uskel/store"
)

// drawnNote begins the note of every photo of the demo: they are drawn, as there is no camera.
const drawnNote = "Drawn for the demo: "

// camera draws what a photo of a panel might show.
type camera struct {
	picture *image.RGBA
	dice    *rand.Rand
}

const (
	wide, high   = 960, 720 // px
	glossy       = 0.42     // where the light lies on the panel, share of its height
	shadeRange   = 90
	baseShade    = 58
	scratchBend  = 60
	dirtSpecks   = 2600
	spotsOnGloss = 140
)

// panel is a clean panel with the light lying across it.
func panel(seed int64) camera {
	c := camera{image.NewRGBA(image.Rect(0, 0, wide, high)), rand.New(rand.NewSource(seed))}
	for y := range high {
		lies := float64(y)/high - glossy
		shade := baseShade + shadeRange*math.Exp(-lies*lies*18)
		for x := range wide {
			s := shade + 14*math.Sin(float64(x)/260) + 3*c.dice.Float64()
			c.picture.SetRGBA(x, y, color.RGBA{uint8(s * 0.72), uint8(s * 0.85), uint8(s), 255})
		}
	}
	return c
}

// dab lays a soft round spot over the panel.
func (c camera) dab(x, y, r float64, by color.RGBA, cover float64) {
	for py := int(y - r); py <= int(y+r); py++ {
		for px := int(x - r); px <= int(x+r); px++ {
			if !(image.Point{X: px, Y: py}).In(c.picture.Bounds()) {
				continue
			}
			far := math.Hypot(float64(px)-x, float64(py)-y) / r
			if far >= 1 {
				continue
			}
			k, was := cover*(1-far*far), c.picture.RGBAAt(px, py)
			mix := func(a, b uint8) uint8 { return uint8(float64(a)*(1-k) + float64(b)*k) }
			c.picture.SetRGBA(px, py, color.RGBA{mix(was.R, by.R), mix(was.G, by.G), mix(was.B, by.B), 255})
		}
	}
}

// scratch draws a fine bent line.
func (c camera) scratch() camera {
	for i := range 900 {
		t := float64(i) / 900
		c.dab(190+560*t, 300+130*t+scratchBend*math.Sin(t*2.6), 2.6, color.RGBA{232, 236, 238, 255}, 0.8)
	}
	return c
}

// dirt leaves a brown film along the lower edge.
func (c camera) dirt() camera {
	for range dirtSpecks {
		c.dab(c.dice.Float64()*wide, high-math.Abs(c.dice.NormFloat64())*95, 3+7*c.dice.Float64(), color.RGBA{104, 84, 58, 255}, 0.45)
	}
	return c
}

// spots leaves dried drops.
func (c camera) spots() camera {
	for range spotsOnGloss {
		c.dab(c.dice.Float64()*wide, c.dice.Float64()*high, 4+9*c.dice.Float64(), color.RGBA{206, 214, 216, 255}, 0.5)
	}
	return c
}

func (l *loader) takes(c camera, p store.Photo) error {
	var file bytes.Buffer
	if err := jpeg.Encode(&file, c.picture, nil); err != nil {
		return err
	}
	kept, err := photo.Clean(file.Bytes())
	if err != nil {
		return err
	}
	p.ID, p.Note, p.Width, p.Height = idFrom(l.later), drawnNote+p.Note, kept.Width, kept.Height
	return l.store.AddPhoto(l.ctx, p, kept)
}

// cameWith takes photos of what today's vehicles came with.
func (l *loader) cameWith(t story, booking string) error {
	if t.ago > 0 || t.car.plate != cars[0].plate && t.car.plate != cars[5].plate {
		return nil
	}
	p := store.Photo{Subject: photo.OfLookOver, SubjectID: booking, ByID: l.people["maren"], At: t.arrives.Add(3 * time.Minute),
		Zone: vehicle.Bonnet, Note: "scratch, 6 cm, there when it came"}
	if t.car.plate == cars[5].plate {
		return l.takes(panel(Seed).scratch(), p)
	}
	p.Zone, p.Note = vehicle.LowerLeft, "mud along the sill"
	return l.takes(panel(Seed+1).dirt(), p)
}

// photographed takes a photo of the first thing that today's audit found.
func (l *loader) photographed(t story, washID string, at time.Time) error {
	if t.ago > 0 {
		return nil
	}
	head, err := l.store.WashHead(l.ctx, washID)
	if err != nil || head.AuditID == nil {
		return err
	}
	a, err := l.store.Audit(l.ctx, *head.AuditID)
	if err != nil || a.Result == nil || len(a.Result.Findings) == 0 {
		return err
	}
	f := a.Result.Findings[0]
	c := panel(Seed + 2).spots()
	if f.Kind == audit.DirtLeft {
		c = panel(Seed + 2).dirt()
	}
	return l.takes(c, store.Photo{Subject: photo.OfAudit, SubjectID: a.ID, Item: f.Item, Zone: f.Zone, ByID: l.people["hesper"],
		At: at, Note: string(f.Kind)})
}
