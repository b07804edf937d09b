package api_test

import (
	"archive/zip"
	"bytes"
	"image/jpeg"
	"net/url"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/audit"
	"uskel/core/cases"
	"uskel/core/photo"
	"uskel/core/photo/phototest"
	"uskel/core/procedure"
	"uskel/core/shop"
	"uskel/core/vehicle"
)

// photo sends a photo of a zone under an id.
func (c *caller) photo(of, id string, zone vehicle.Zone, file []byte) reply {
	c.t.Helper()
	return c.sent("PUT", "/api/"+of+"/photos/"+id+"?note=a+scratch&zone="+url.QueryEscape(string(zone)), string(file),
		map[string]string{"Content-Type": "image/jpeg"})
}

// A photo of how a vehicle came is kept with its place on the car and without where it was taken; sent twice it is there once; only
// whoever took it takes it out, and nobody once the wash has begun.
func TestAPhotoOfHowItCame(t *testing.T) {
	s := open(t)
	lead, osk, hesper := s.as("maren"), s.as("osk"), s.as("hesper")
	b := lead.booking("PLT 7")
	of, id := "bookings/"+b.ID, uuid.NewString()
	hesper.photo(of, id, vehicle.Bonnet, phototest.Taken(2400, 1800)).problem(403)
	for range 2 {
		osk.photo(of, id, vehicle.Bonnet, phototest.Taken(2400, 1800)).is(200)
	}
	shown := into[api.LookOverView](hesper.get("/api/bookings/" + b.ID + "/look-over").is(200)).Photos
	require.Len(t, shown, 1)
	assert.Equal(t, vehicle.Bonnet, shown[0].Zone)
	assert.Equal(t, "a scratch", shown[0].Note)
	assert.False(t, shown[0].Mine)

	picture := hesper.get("/api/photos/" + id).is(200)
	assert.Equal(t, "image/jpeg", picture.header.Get("Content-Type"))
	assert.NotContains(t, string(picture.body), "GPS", "a photo does not tell where it was taken")
	drawn, err := jpeg.Decode(bytes.NewReader(picture.body))
	require.NoError(t, err)
	assert.Equal(t, 1600, drawn.Bounds().Dx())
	assert.Less(t, len(hesper.get("/api/photos/"+id+"?small=true").is(200).body), len(picture.body))
	s.nobody().get("/api/photos/" + id).problem(401)

	lead.do("DELETE", "/api/photos/"+id, nil).problem(403)
	osk.do("DELETE", "/api/photos/"+id, nil).is(204)
	osk.do("DELETE", "/api/photos/"+id, nil).is(204)
	osk.get("/api/photos/" + id).problem(404)
}

// What is no picture, too much, of nothing, or of no part of a car is refused with the reason, and nothing is kept of it.
func TestWhatIsNoPhotoIsRefused(t *testing.T) {
	s := open(t)
	osk := s.as("osk")
	b := osk.booking("PLT 7")
	of := "bookings/" + b.ID
	for says, file := range map[string][]byte{
		"cannot be read": []byte("%PDF-1.7 a receipt"), "as JPEG or PNG": phototest.Taken(900, 600)[:4000],
		"JPEG": []byte("<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>"),
	} {
		assert.Contains(t, osk.photo(of, uuid.NewString(), vehicle.Bonnet, file).problem(422).says(), says)
	}
	osk.photo(of, uuid.NewString(), "sunroof", phototest.Taken(60, 40)).problem(422)
	osk.photo(of, uuid.NewString(), vehicle.Bonnet, make([]byte, 2<<20)).problem(413)
	osk.photo("bookings/"+uuid.NewString(), uuid.NewString(), vehicle.Bonnet, phototest.Taken(60, 40)).problem(404)
	assert.Empty(t, into[api.LookOverView](osk.get("/api/bookings/"+b.ID+"/look-over").is(200)).Photos)
}

// An audit shows its photos beside those of the look-over; a finding counts as there before only where one shows it; whoever
// washed adds none; a blind look sees none of them; after the signature they stay, and what comes late says so.
func TestPhotosOfAnAudit(t *testing.T) {
	s := open(t)
	lead, hesper, jory := s.as("maren"), s.as("hesper"), s.as("jory")
	b := lead.booking("CAB 12") // washed by Jory
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+b.WashID+"/audit", nil).is(200))
	path, of := "/api/audits/"+a.ID, "audits/"+a.ID
	mine := uuid.NewString()
	hesper.photo(of, mine, vehicle.MirrorLeft, phototest.Taken(300, 200)).is(200)
	jory.photo(of, uuid.NewString(), vehicle.MirrorLeft, phototest.Taken(300, 200)).problem(403)

	before := audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
		{Zone: vehicle.MirrorLeft, Kind: audit.FineCircles, Severity: audit.Major, Before: true}}}
	said := hesper.do("PUT", path+"/items/front", map[string]any{"version": 0, "answer": before}).problem(422).says()
	assert.Contains(t, said, "the look-over has no photo of")
	s.as("osk").photo("bookings/"+b.ID, uuid.NewString(), vehicle.MirrorLeft, phototest.Taken(300, 200)).is(200)
	hesper.do("PUT", path+"/items/front", map[string]any{"version": 0, "answer": before}).problem(422) // it came after the wash had begun
	shown := into[api.AuditView](jory.get(path).is(200)).Photos
	require.Len(t, shown, 3, "the demo's scratch on the bonnet among them")
	for _, p := range shown {
		assert.Equal(t, p.Subject == photo.OfLookOver && p.Zone == vehicle.MirrorLeft, p.Late)
	}

	for _, id := range a.Result.Open {
		pass := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		hesper.do("PUT", path+"/items/"+id, map[string]any{"version": 0, "answer": pass}).is(200)
	}
	hesper.do("POST", path+"/close", nil).is(200)
	hesper.do("DELETE", "/api/photos/"+mine, nil).problem(409)
	hesper.photo(of, uuid.NewString(), vehicle.Roof, phototest.Taken(300, 200)).is(200)
	for _, p := range into[api.AuditView](jory.get(path).is(200)).Photos {
		assert.Equal(t, p.ID != mine && p.Zone != vehicle.Bonnet, p.Late, "it was sent from a device that had no connection")
	}
	lead.do("POST", "/api/blind", takes(audit.SecondWalk, a.ID, lead.id("maren"))).is(204)
	blind := into[api.AuditView](lead.get(path + "/second").is(200)).Photos
	require.Len(t, blind, 2)
	for _, p := range blind {
		assert.Equal(t, photo.OfLookOver, p.Subject)
	}
}

// The owner takes the photos away with the records, and a vehicle that is forgotten leaves none.
func TestPhotosLeaveWithTheShopAndTheVehicle(t *testing.T) {
	s := open(t)
	owner, osk := s.hires("Odile Penn", "odile", shop.Owner), s.as("osk")
	b := osk.booking("PLT 7")
	id := uuid.NewString()
	osk.photo("bookings/"+b.ID, id, vehicle.Bonnet, phototest.Taken(300, 200)).is(200)
	body := owner.get("/api/export").is(200).body
	z, err := zip.NewReader(bytes.NewReader(body), int64(len(body)))
	require.NoError(t, err)
	taken, err := z.Open("photos/" + id + ".jpg")
	require.NoError(t, err)
	_, err = jpeg.Decode(taken)
	require.NoError(t, err)

	owner.do("POST", "/api/vehicles/"+b.VehicleID+"/forget", nil).is(204)
	osk.get("/api/photos/" + id).problem(404)
}

// Where a list wants a photo of what is found, nothing is signed before it has arrived.
func TestAFindingThatWantsAPhoto(t *testing.T) {
	s := open(t)
	lead, hesper := s.as("maren"), s.as("hesper")
	list := audit.Starter()
	for i := range list.Items {
		list.Items[i].Photo = list.Items[i].ID == "lower"
	}
	lead.do("PUT", "/api/checklists/"+list.ID, map[string]any{"version": 1, "list": list}).is(200)
	a := into[api.AuditView](hesper.do("POST", "/api/washes/"+lead.booking("CAB 12").WashID+"/audit", nil).is(200))
	path := "/api/audits/" + a.ID
	for _, id := range a.Result.Open {
		given := audit.Answer{Verdict: audit.Pass, Findings: []audit.Finding{}}
		if id == "lower" {
			given = audit.Answer{Verdict: audit.Found, Findings: []audit.Finding{
				{Zone: vehicle.LowerRight, Kind: audit.DirtLeft, Severity: audit.Minor}}}
		}
		hesper.do("PUT", path+"/items/"+id, map[string]any{"version": 0, "answer": given}).is(200)
	}
	assert.Equal(t, []string{"lower"}, into[api.AuditView](hesper.get(path).is(200)).Unproven)
	assert.Contains(t, hesper.do("POST", path+"/close", nil).problem(409).says(), "want a photo")
	hesper.sent("PUT", "/api/audits/"+a.ID+"/photos/"+uuid.NewString()+"?item=lower&zone=lower-right", string(phototest.Taken(90, 60)),
		map[string]string{"Content-Type": "image/jpeg"}).is(200)
	hesper.do("POST", path+"/close", nil).is(200)
}

// A case of the shop's own shows photos: whoever signs off adds them, whoever is put the case sees them, and nobody else's case has any.
func TestACaseShowsPhotos(t *testing.T) {
	s := open(t)
	lead, pia := s.as("maren"), s.as("pia")
	own := into[cases.Own](lead.do("POST", "/api/own-cases", cases.Own{Title: "Which cloth?", Skill: procedure.SkillDry,
		Ask: "Is this cloth still good?", Choices: []string{"No", "Yes"}, Because: "It has a burr."}).is(200))
	of, id := "own-cases/"+own.ID, uuid.NewString()
	pia.photo(of, id, "", phototest.Taken(400, 300)).problem(403)
	lead.photo(of, id, "", []byte("no picture")).problem(422)
	lead.photo("own-cases/"+uuid.NewString(), uuid.NewString(), "", phototest.Taken(40, 30)).problem(404)
	lead.photo(of, id, "", phototest.Taken(400, 300)).is(200)
	lead.photo(of, id, "", phototest.Taken(400, 300)).is(200)
	records := into[api.CaseRecords](lead.get("/api/cases").is(200))
	require.Len(t, records.Photos, 1)
	assert.Equal(t, own.ID, records.Photos[0].Case)
	assert.Empty(t, into[api.CaseRecords](pia.get("/api/cases").is(200)).Photos)

	seen := 0
	for range 40 { // three at a time, until it is hers
		hand := into[api.Dealt](pia.do("POST", "/api/cases", map[string]any{}).is(200))
		for _, c := range hand.Cases {
			if c.Kind == "own-"+own.ID {
				require.Len(t, c.Photos, 1)
				assert.Equal(t, id, c.Photos[0].ID)
				seen++
			} else {
				assert.Empty(t, c.Photos)
			}
			given := map[string]any{"millis": 1000, "number": 1}
			if c.Choices != nil {
				given = map[string]any{"millis": 1000, "choice": 0}
			}
			pia.do("POST", "/api/cases/"+c.ID+"/answer", given).is(200)
		}
		if seen > 0 {
			break
		}
	}
	assert.Positive(t, seen)
	lead.do("DELETE", "/api/photos/"+id, nil)
	assert.Empty(t, into[api.CaseRecords](lead.get("/api/cases").is(200)).Photos)
}
