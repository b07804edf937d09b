package shelf_test

import (
	"fmt"
	"time"

	"uskel/core/measure"
	"uskel/core/shelf"
)

// Two litres used over a fortnight: how long five last, and whether they are ordered now.
func ExampleStock_Forecast() {
	now := time.Date(2026, 4, 14, 9, 0, 0, 0, time.UTC)
	stock := shelf.Stock{Counted: measure.Ml(5000), CountedAt: now, LeadDays: 5}
	f := stock.Forecast(measure.Ml(2000), 14, now)
	fmt.Println(f.Says)
	fmt.Println("order by", f.OrderBy.Format("2 January"))
	// Output:
	// Lasts 35 days at 143 ml a day; delivery takes 5 and 3 are kept in hand.
	// order by 11 May
}
