package api

import (
	"cmp"
	"context"
	"errors"
	"math"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"uskel/core/climate"
	"uskel/core/condition"
	"uskel/core/contact"
	"uskel/core/measure"
	"uskel/core/procedure"
	"uskel/core/shelf"
	"uskel/core/shop"
	"uskel/core/stock"
	"uskel/core/vehicle"
	"uskel/store"
)

// Shelf is the products, each with its ratio in all readings and how long it lasts, and the cloths.
type Shelf struct {
	Products []ShelfItem `json:"products"`
	Cloths   []ClothItem `json:"cloths"`
}

// ShelfItem is a product on the shelf.
type ShelfItem struct {
	shelf.Product
	Readings *measure.Readings `json:"readings,omitempty"`
	Shop     string            `json:"shop,omitempty" doc:"how the shop's procedures read the ratio, where that is not the label's way"`
	Stock    *shelf.Stock      `json:"stock,omitempty"`
	Version  int               `json:"version" doc:"of the count; 0 before the first"`
	Label    int               `json:"label" doc:"version of the label"`
	Forecast *shelf.Forecast   `json:"forecast,omitempty"`
}

// ClothItem is a set of cloths and its wear.
type ClothItem struct {
	shelf.ClothSet
	ID    string     `json:"id"`
	Since time.Time  `json:"since"`
	Wear  shelf.Wear `json:"wear"`
}

// Amount is a volume as it is written.
type Amount struct {
	Amount float64            `json:"amount" minimum:"0"`
	Unit   measure.VolumeUnit `json:"unit" enum:"ml,l,US fl oz,US gal,imp fl oz,imp gal"`
}

func (a Amount) volume() (measure.Volume, error) { return measure.NewVolume(a.Amount, a.Unit) }

// Printed is a ratio as it is printed, and what it means.
type Printed struct {
	First   int64           `json:"first"`
	Second  int64           `json:"second"`
	Reading measure.Reading `json:"reading"`
}

func (p Printed) ratio() (measure.Ratio, error) {
	return measure.NewRatio(p.First, p.Second, p.Reading)
}

// MixQuestion is a ratio and the vessel in hand.
type MixQuestion struct {
	Printed
	Amount float64            `json:"amount" doc:"What the vessel holds, mix in all"`
	Unit   measure.VolumeUnit `json:"unit" enum:"ml,l,US fl oz,US gal,imp fl oz,imp gal"`
	// ProductID is what is mixed, when it stands on the shelf: its label is what the strength is held against.
	ProductID string `json:"productId,omitempty" maxLength:"80"`
}

// MixAnswer is what to pour, and what the other readings would have poured.
type MixAnswer struct {
	Readings measure.Readings `json:"readings"`
	Product  measure.Volume   `json:"product" doc:"ml"`
	Water    measure.Volume   `json:"water" doc:"ml"`
	ToWater  measure.Volume   `json:"toWater" doc:"ml of product if the amount is water already measured"`
	Misread  []Misread        `json:"misread"`
	Doubt    string           `json:"doubt,omitempty" doc:"asks about a strength that is probably a slip"`
}

// Misread is what the same two numbers give under another reading.
type Misread struct {
	Reading measure.Reading `json:"reading"`
	Product measure.Volume  `json:"product" doc:"ml"`
	Times   float64         `json:"times" doc:"strength against what is meant"`
}

// WaterAnswer is what is known of the water.
type WaterAnswer struct {
	Units   map[string]float64 `json:"units" doc:"hardness in every unit"`
	Class   string             `json:"class"`
	Residue float64            `json:"residue" doc:"mg of minerals left when a mid-size car dries by itself after a rinse"`
	Panel   float64            `json:"panel" doc:"mg/m2 left on an upright panel"`
	Washes  *int               `json:"washes,omitempty" doc:"washes left in the deionising cartridge"`
}

func (s *server) registerShelf(api huma.API) {
	operation(s, api, get("/shelf", "shelf", "Products, how long they last, and cloths"), shop.See, s.shelf)
	operation(s, api, get("/shelf/today", "enoughToday", "What today's washes need, against what there is"), shop.See, s.enoughToday)
	operation(s, api, put("/shelf/{id}", "saveProduct", "A product's label"), shop.KeepShelf, s.saveProduct)
	operation(s, api, put("/shelf/{id}/count", "countStock", "Count a product"), shop.LookOver, s.countStock)
	operation(s, api, post("/cloths", "addCloths", "A new set of cloths"), shop.KeepShelf, s.addCloths)
	operation(
		s,
		api,
		post("/cloths/{id}/retire", "retireCloths", "Take a set out of use"),
		shop.KeepShelf,
		func(ctx context.Context, in *ID) (*Out[Shelf], error) {
			if err := s.Store.RetireCloths(ctx, in.ID, s.Now()); err != nil {
				return nil, err
			}
			return s.shelf(ctx, nil)
		},
	)
	operation(s, api, post("/mix", "mix", "How much product for this vessel"), shop.See, s.mix)
	operation(
		s,
		api,
		post("/mix-made", "mixMade", "What was really mixed"),
		shop.See,
		func(_ context.Context, in *In[struct {
			Product Amount `json:"product"`
			Water   Amount `json:"water"`
		}]) (*Out[measure.Readings], error) {
			product, err := in.Body.Product.volume()
			if err != nil {
				return nil, invalid("product", err)
			}
			water, err := in.Body.Water.volume()
			if err != nil {
				return nil, invalid("water", err)
			}
			made, err := measure.RatioMade(product, water)
			if err != nil {
				return nil, invalid("product", err)
			}
			return out(made.Readings())
		},
	)
	operation(
		s,
		api,
		post("/mix-on-panel", "mixOnPanel", "What lands on the paint from a foam sprayer"),
		shop.See,
		mixOnPanel,
	)
	operation(s, api, post("/mix-restrength", "mixRestrength", "From one strength to another"), shop.See, restrength)
	operation(
		s,
		api,
		post("/mix-water", "mixWater", "Hardness in any unit, residue, washes left in a cartridge"),
		shop.See,
		s.mixWater,
	)
	operation(
		s,
		api,
		get("/bucket", "bucket", "How a rinse bucket clears, with and without a guard"),
		shop.See,
		func(_ context.Context, in *struct {
			Water float64 `query:"water" minimum:"0" maximum:"60" default:"20" doc:"temperature of its water, degC"`
		}) (*Out[contact.BucketTale], error) {
			return out(contact.TellBucket(measure.Celsius(in.Water)))
		},
	)
}

// recentDays is how far back the pace of use is taken from.
const recentDays = 14

func (s *server) shelf(ctx context.Context, _ *struct{}) (*Out[Shelf], error) {
	products, versions, err := s.Store.ProductVersions(ctx)
	if err != nil {
		return nil, err
	}
	counts, err := s.Store.Stock(ctx)
	if err != nil {
		return nil, err
	}
	procedures, err := s.Store.Procedures(ctx)
	if err != nil {
		return nil, err
	}
	cloths, err := s.Store.Cloths(ctx)
	if err != nil {
		return nil, err
	}
	recent := s.Now().AddDate(0, 0, -recentDays)
	used, err := s.Store.UsedProducts(ctx, recent)
	if err != nil {
		return nil, err
	}
	worn, err := s.Store.UsedCloths(ctx)
	if err != nil {
		return nil, err
	}
	counted := map[string]store.StockCount{}
	for _, c := range counts {
		counted[c.ProductID] = c
	}
	reads := shelf.ReadsOf(procedures)
	sh := Shelf{Products: make([]ShelfItem, len(products))}
	for i, p := range products {
		item := ShelfItem{Product: p, Label: versions[p.ID], Shop: p.Otherwise(reads)}
		if p.Ratio != nil {
			r := p.Ratio.Readings()
			item.Readings = &r
		}
		if c, there := counted[p.ID]; there {
			stock := shelf.Stock{Counted: millilitres(c.CountedMl), CountedAt: c.CountedAt.UTC(),
				Used: millilitres(used[p.ID].Since), LeadDays: c.LeadDays}
			forecast := stock.Forecast(millilitres(used[p.ID].Recent), recentDays, s.Now())
			item.Stock, item.Forecast, item.Version = &stock, &forecast, c.Version
		}
		sh.Products[i] = item
	}
	sh.Cloths = wear(cloths, worn)
	return out(sh)
}

func millilitres(ml float64) measure.Volume {
	v, _ := measure.NewVolume(math.Max(0, ml), measure.Millilitre)
	return v
}

// wear says how far each set of cloths is worn.
func wear(rows []store.ClothRow, worn map[string]store.Used) []ClothItem {
	items := make([]ClothItem, len(rows))
	for i, r := range rows {
		set := shelf.ClothSet{Kind: r.Kind, Colour: r.Colour, Count: r.Count, Limit: r.WashLimit}
		items[i] = ClothItem{set, r.ID, r.Since.UTC(), set.Wear(int(worn[r.ID].Since))}
	}
	slices.SortStableFunc(items, func(a, b ClothItem) int { // the most worn first
		return cmp.Compare(a.Wear.Left/float64(a.Limit), b.Wear.Left/float64(b.Limit))
	})
	return items
}

func (s *server) countStock(ctx context.Context, in *struct {
	ID   string `path:"id" maxLength:"80"`
	Body struct {
		Version  int    `json:"version" minimum:"0"`
		Left     Amount `json:"left"`
		LeadDays int    `json:"leadDays" minimum:"0" maximum:"365"`
	}
}) (*Out[Shelf], error) {
	left, err := in.Body.Left.volume()
	if err != nil {
		return nil, invalid("left", err)
	}
	products, err := s.Store.Products(ctx)
	if err != nil {
		return nil, err
	}
	known := false
	for _, p := range products {
		known = known || p.ID == in.ID
	}
	if !known {
		return nil, store.NoSuch("product")
	}
	if err := s.Store.Count(
		ctx,
		store.StockCount{
			ProductID: in.ID,
			CountedMl: left.Ml(),
			CountedAt: s.Now(),
			LeadDays:  in.Body.LeadDays,
			Version:   in.Body.Version,
		},
	); err != nil {
		return nil, err
	}
	return s.shelf(ctx, nil)
}

func (s *server) saveProduct(ctx context.Context, in *struct {
	ID   string `path:"id" maxLength:"80" pattern:"^[a-z0-9][a-z0-9-]*$" patternDescription:"small letters, digits and hyphens"`
	Body struct {
		Label   int           `json:"label" minimum:"0" doc:"version of the label this was made from; 0 for a new product"`
		Product shelf.Product `json:"product"`
	}
}) (*Out[Shelf], error) {
	p := in.Body.Product
	p.ID = in.ID
	if err := p.Check(); err != nil {
		return nil, invalid("product", err)
	}
	err := s.Store.SaveProduct(ctx, p, in.Body.Label)
	if errors.Is(err, store.ErrStale) {
		saved, _, again := s.Store.ProductVersions(ctx)
		for _, now := range saved {
			if again == nil && now.ID == p.ID {
				return nil, stale("product", p, theirs{doc: now})
			}
		}
	}
	if err != nil {
		return nil, err
	}
	return s.shelf(ctx, nil)
}

// enoughToday holds the washes that are still to come today against products, cloths, mixes and water.
func (s *server) enoughToday(ctx context.Context, _ *struct{}) (*Out[[]stock.Need], error) {
	zero, err := s.today(ctx)
	if err != nil {
		return nil, err
	}
	d, err := s.gatherDay(ctx, zero, nil)
	if err != nil {
		return nil, err
	}
	places := map[string]condition.Place{}
	for _, v := range d.views {
		if v.Booking.Stage.Planned() {
			places[v.Booking.ID] = v.Booking.Place
		}
	}
	var cars []stock.Car
	for _, v := range d.visits {
		if place, comes := places[v.ID]; comes {
			cars = append(cars, stock.Car{Plan: v.Plan, Place: place})
		}
	}
	left, err := s.left(ctx)
	if err != nil {
		return nil, err
	}
	return out(stock.Enough(cars, d.shelf, left, d.cloths))
}

// left is what is left of each product that was counted, ml by its id.
func (s *server) left(ctx context.Context) (map[string]float64, error) {
	counts, err := s.Store.Stock(ctx)
	if err != nil {
		return nil, err
	}
	used, err := s.Store.UsedProducts(ctx, s.Now().AddDate(0, 0, -recentDays))
	if err != nil {
		return nil, err
	}
	left := map[string]float64{}
	for _, c := range counts {
		left[c.ProductID] = c.CountedMl - used[c.ProductID].Since
	}
	return left, nil
}

func (s *server) addCloths(ctx context.Context, in *In[shelf.ClothSet]) (*Out[Shelf], error) {
	c := in.Body
	if err := s.Store.AddCloths(
		ctx,
		store.ClothRow{
			ID:        store.NewID(),
			Kind:      c.Kind,
			Colour:    c.Colour,
			Count:     c.Count,
			WashLimit: c.Limit,
			Since:     s.Now(),
		},
	); err != nil {
		return nil, err
	}
	return s.shelf(ctx, nil)
}

func (s *server) mix(ctx context.Context, in *In[MixQuestion]) (*Out[MixAnswer], error) {
	q := in.Body
	r, err := q.ratio()
	if err != nil {
		return nil, invalid("first", err)
	}
	vessel, err := measure.NewVolume(q.Amount, q.Unit)
	if err != nil || vessel.IsZero() {
		return nil, invalid("amount", orElse(err, "the vessel must hold more than nothing"))
	}
	a := MixAnswer{Readings: r.Readings(), ToWater: r.ForWater(vessel), Misread: []Misread{}}
	a.Product, a.Water = r.ForTotal(vessel)
	label, err := s.labelled(ctx, q.ProductID)
	if err != nil {
		return nil, err
	}
	a.Doubt = r.Doubt(label)
	for _, name := range q.Reading.Values() {
		other, err := measure.NewRatio(q.First, q.Second, measure.Reading(name))
		if err != nil || name == string(q.Reading) {
			continue
		}
		product, _ := other.ForTotal(vessel)
		a.Misread = append(a.Misread, Misread{measure.Reading(name), product, product.Ml() / a.Product.Ml()})
	}
	return out(a)
}

// labelled is the ratio on a product's label; nil when it is not on the shelf or has none.
func (s *server) labelled(ctx context.Context, id string) (*measure.Ratio, error) {
	if id == "" {
		return nil, nil
	}
	products, err := s.Store.Products(ctx)
	if err != nil {
		return nil, err
	}
	for _, p := range products {
		if p.ID == id {
			return p.Ratio, nil
		}
	}
	return nil, nil
}

func mixOnPanel(_ context.Context, in *In[struct {
	Product  Amount  `json:"product" doc:"in the bottle"`
	Water    Amount  `json:"water" doc:"in the bottle"`
	Flow     float64 `json:"flow" doc:"l/min through the nozzle"`
	Emptying float64 `json:"emptying" minimum:"0" maximum:"3600" doc:"s until the bottle is empty"`
}]) (*Out[struct {
	Bottle  measure.Readings `json:"bottle"`
	OnPanel measure.Readings `json:"onPanel"`
}], error) {
	product, err := in.Body.Product.volume()
	if err != nil {
		return nil, invalid("product", err)
	}
	water, err := in.Body.Water.volume()
	if err != nil {
		return nil, invalid("water", err)
	}
	bottle, err := measure.RatioMade(product, water)
	if err != nil {
		return nil, invalid("product", err)
	}
	lands, err := measure.OnPanel(product, water, in.Body.Flow, time.Duration(in.Body.Emptying*float64(time.Second)))
	if err != nil {
		return nil, invalid("flow", err)
	}
	answer := &Out[struct {
		Bottle  measure.Readings `json:"bottle"`
		OnPanel measure.Readings `json:"onPanel"`
	}]{}
	answer.Body.Bottle, answer.Body.OnPanel = bottle.Readings(), lands.Readings()
	return answer, nil
}

func restrength(_ context.Context, in *In[struct {
	Have   Printed `json:"have"`
	Want   Printed `json:"want"`
	Amount Amount  `json:"amount" doc:"how much mix there is"`
	Room   *Amount `json:"room,omitempty" doc:"what the vessel holds in all; absent when there is always room"`
}]) (*Out[measure.Restrength], error) {
	b := in.Body
	have, err := b.Have.ratio()
	if err != nil {
		return nil, invalid("have", err)
	}
	want, err := b.Want.ratio()
	if err != nil {
		return nil, invalid("want", err)
	}
	amount, err := b.Amount.volume()
	if err != nil {
		return nil, invalid("amount", err)
	}
	room := measure.Volume{}
	if b.Room != nil {
		if room, err = b.Room.volume(); err != nil {
			return nil, invalid("room", err)
		}
	}
	r, err := measure.FromTo(have, amount, want, room)
	if err != nil {
		return nil, invalid("amount", err)
	}
	return out(r)
}

func (s *server) mixWater(ctx context.Context, in *In[struct {
	Hardness *float64             `json:"hardness,omitempty" doc:"the meter's when absent"`
	Unit     measure.HardnessUnit `json:"unit"`
	Solids   *float64             `json:"solids,omitempty" minimum:"0" maximum:"20000" doc:"dissolved solids, mg/l; the meter's when absent"`
	Capacity float64              `json:"capacity,omitempty" minimum:"0" maximum:"1000000" doc:"g of solids a deionising cartridge takes"`
	Used     float64              `json:"used,omitempty" minimum:"0" doc:"l that have run through it"`
	AWash    float64              `json:"aWash,omitempty" minimum:"0" doc:"l a wash takes of it"`
}]) (*Out[WaterAnswer], error) {
	b := in.Body
	meter, _, err := s.Meter.Read(ctx, s.Now())
	if err != nil {
		return nil, err
	}
	hardness, solids := meter.Hardness, meter.Solids
	if b.Hardness != nil {
		if hardness, err = measure.NewHardness(*b.Hardness, b.Unit); err != nil {
			return nil, invalid("hardness", err)
		}
	}
	if b.Solids != nil {
		solids = *b.Solids
	}
	a := WaterAnswer{Units: map[string]float64{}, Class: hardness.Class()}
	for _, unit := range b.Unit.Values() {
		a.Units[unit] = math.Round(hardness.In(measure.HardnessUnit(unit))*100) / 100
	}
	for _, p := range vehicle.Hatch.Parts() {
		if procedure.Outside.Has(p) {
			a.Residue += climate.Residue(solids, climate.DrainedWater.Grams(p.Facing)) * p.Area / 0.85
		}
	}
	a.Residue, a.Panel = math.Round(a.Residue), climate.Residue(solids, climate.DrainedWater.Grams(vehicle.FacesLeft))
	if b.Capacity > 0 && b.AWash > 0 {
		n, err := measure.WashesLeft(
			b.Capacity,
			millilitres(b.Used*1000),
			millilitres(b.AWash*1000),
			math.Max(solids, 1),
		)
		if err != nil {
			return nil, invalid("capacity", err)
		}
		a.Washes = &n
	}
	return out(a)
}
