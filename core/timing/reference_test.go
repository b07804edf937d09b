package timing

import (
	"encoding/csv"
	"fmt"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/stats"
)

// reference reads what R 4.2 (Debian's r-base-core) made of some data: testdata/reference.R, run by ./run reference
// statistics.
func reference(t *testing.T) (data map[string][]float64, says map[string]float64) {
	t.Helper()
	f, err := os.Open("testdata/reference.csv")
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	data, says = map[string][]float64{}, map[string]float64{}
	for _, row := range rows {
		var values []float64
		for field := range strings.FieldsSeq(row[2]) {
			v, err := strconv.ParseFloat(field, 64)
			require.NoError(t, err)
			values = append(values, v)
		}
		if row[0] == "data" {
			data[row[1]] = values
		} else {
			says[row[1]] = values[0]
		}
	}
	return data, says
}

func TestAgainstR(t *testing.T) {
	data, says := reference(t)
	same := func(name string, got float64) {
		t.Helper()
		want, there := says[name]
		require.True(t, there, name)
		assert.InEpsilon(t, want, got, 1e-9, name)
	}

	fit, err := FitLine(data["minutes"], data["area"], data["grade"])
	require.NoError(t, err)
	same("fit-fixed", fit.Fixed)
	same("fit-area", fit.PerM2)
	same("fit-grade", fit.PerGrade)
	same("fit-r2", fit.R2)
	same("fit-residual", fit.Residual)

	c, err := Welch(data["before"], data["after"])
	require.NoError(t, err)
	same("welch-p", c.P)
	same("welch-low", c.Low)
	same("welch-high", c.High)

	f, p := Variance([][]float64{data["group-a"], data["group-b"], data["group-c"]})
	same("anova-f", f)
	same("anova-p", p)

	counts := func(values []float64) map[string]int {
		n := map[string]int{}
		for i, v := range values {
			n[strconv.Itoa(i)] = int(v)
		}
		return n
	}
	chi, p := Mixed(counts(data["mix-before"]), counts(data["mix-after"]))
	same("chi-square", chi)
	same("chi-p", p)

	curve, err := Learn(data["times"], 0)
	require.NoError(t, err)
	same("learn-first", curve.First)
	same("learn-slope", curve.Slope)
	same("learn-sigma", curve.Sigma)
	expected, low, high := curve.At(21)
	same("learn-21", expected)
	same("learn-21-low", low)
	same("learn-21-high", high)
	low, high = curve.Rates()
	same("learn-rate-low", low)
	same("learn-rate-top", high)

	low, high = Interval(data["readings"])
	same("interval-low", low)
	same("interval-high", high)
	same("median", stats.Median(data["readings"]))
	distances := []float64{}
	for _, x := range data["readings"] {
		distances = append(distances, math.Abs(x-stats.Median(data["readings"])))
	}
	same("mad", stats.Median(distances))
}

// Quantiles of type 7, the tails of counts and Benjamini and Hochberg's adjustment, against R's own functions.
func TestSharedStatisticsAgainstR(t *testing.T) {
	data, says := reference(t)
	readings, before := slices.Sorted(slices.Values(data["readings"])), slices.Sorted(slices.Values(data["before"]))
	for name, got := range map[string]float64{
		"quartile-low": stats.Quantile(0.25, readings), "quartile-high": stats.Quantile(0.75,
			readings), "tenth-before": stats.Quantile(0.1, before),
		"ninetieth-before": stats.Quantile(0.9, before), "median-of-two": stats.Median([]float64{10, 20})} {
		require.Contains(t, says, name)
		assert.InEpsilon(t, says[name], got, 1e-9, name)
	}
	for k := range 6 {
		assert.InEpsilon(
			t,
			says[fmt.Sprint("binomial-", k)],
			stats.BinomialUpper(k, 6, 0.1),
			1e-9,
			"%d or more of 6",
			k,
		)
		assert.InEpsilon(t, says[fmt.Sprint("poisson-", k)], stats.PoissonUpper(k, 1.3), 1e-9, "%d or more", k)
	}
	told := 0
	for _, yes := range stats.Discoveries([]float64{0.001, 0.008, 0.039, 0.041, 0.042, 0.06, 0.074, 0.205}, 0.05) {
		if yes {
			told++
		}
	}
	assert.Equal(t, int(says["discoveries"]), told)
}

// International Labour Office, Introduction to Work Study (4th edition), chapter on sample size, statistical method:
// readings 7, 6, 7, 7, 6 in hundredths of a minute give n = 8.81, so 9 observations (figures as given in the issue;
// the book from memory).
func TestObservationsNeeded(t *testing.T) {
	assert.InDelta(t, 8.81, Needed([]float64{7, 6, 7, 7, 6}), 0.01)
	assert.Zero(t, Needed([]float64{5, 5, 5}), "no variation: what there is suffices")
	assert.Zero(t, Needed(nil))
}

// NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2: the worked example of individuals control charts
// (flowrate batches).
func TestIndividualsChartOfTheHandbook(t *testing.T) {
	values := []float64{49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1}
	points := make([]Point, len(values))
	for i, v := range values {
		points[i].Value = v
	}
	c := Control(points, 0, Individuals)
	assert.InDelta(t, 50.81, c.Mean, 1e-9)
	assert.InDelta(t, 1.8778, c.MeanRange, 5e-5)
	assert.InDelta(t, 55.8041, c.Upper, 1e-3)
	assert.InDelta(t, 45.8159, c.Lower, 1e-3)
	for _, p := range c.Points {
		assert.Empty(t, p.Signals, "the handbook: the process is in control")
	}
}

// Wright's curve at 80 %: each doubling leaves four fifths. Unit coefficients as tables of learning curves print them
// (operations management texts, from memory): 3rd 0.702, 5th 0.596, 10th 0.477.
func TestWrightsCurve(t *testing.T) {
	slope := math.Log2(0.8)
	var times []float64
	for n := 1; n <= 12; n++ {
		times = append(times, 100*math.Pow(float64(n), slope))
	}
	c, err := Learn(times, 0)
	require.NoError(t, err)
	assert.InDelta(t, 0.8, c.Rate, 1e-9)
	for n, want := range map[int]float64{1: 100, 2: 80, 4: 64, 8: 51.2, 3: 70.2, 5: 59.6, 10: 47.7} {
		got, low, high := c.At(n)
		assert.InDelta(t, want, got, 0.05, "unit %d", n)
		assert.InDelta(t, got, low, 1e-6, "no scatter, no band")
		assert.InDelta(t, got, high, 1e-6)
	}
	_, err = Learn(times[:4], 0)
	assert.ErrorContains(t, err, "at least 6")
	_, err = Learn([]float64{5, 4, 0, 3, 3, 2}, 0)
	assert.ErrorContains(t, err, "time 3 is 0")
}

// Modified z-scores of logarithms by hand (rule: NIST/SEMATECH e-Handbook, 1.3.5.17): the median of the logarithms is
// 1.701, the median distance 0.0912, so that 13 scores 0.6745 x 0.864 / 0.0912 = 6.4 and 19 scores 9.2; among eight
// 3.5 x (1 + 10/8) = 7.9 is far out.
func TestOutliers(t *testing.T) {
	assert.Equal(
		t,
		[]bool{false, false, false, false, false, false, false, false},
		outliers([]float64{4, 5, 5, 5, 6, 6, 6, 13}),
	)
	assert.Equal(
		t,
		[]bool{false, false, false, false, false, false, false, true},
		outliers([]float64{4, 5, 5, 5, 6, 6, 6, 19}),
	)
	assert.Equal(
		t,
		[]bool{false, false, false, false, true},
		outliers([]float64{2, 2, 2, 2, 9}),
		"over four times the middle one",
	)
	assert.Equal(t, []bool{true, false, false, false, false}, outliers([]float64{0.5, 2, 2, 2, 7.9}), "a quarter of it")
	assert.Equal(t, []bool{false, false, false}, outliers([]float64{1, 2, 900}), "three say nothing")
}

// Each run rule has a series that ends it and one that just does not (rules: NIST/SEMATECH e-Handbook, 6.3.2). Mean
// 0, sigma 1.
func TestRunRules(t *testing.T) {
	for name, c := range map[string]struct {
		values []float64
		ends   bool
		says   string
	}{
		"beyond three sigma":        {[]float64{0, 3.1}, true, "beyond the control limit"},
		"within three sigma":        {[]float64{0, 2.9}, false, "beyond the control limit"},
		"two of three":              {[]float64{2.1, 0, 2.2}, true, "two of three beyond two sigma"},
		"two of three, other sides": {[]float64{2.1, 0, -2.2}, false, "two of three beyond two sigma"},
		"two, and then back":        {[]float64{2.1, 2.2, 0}, false, "two of three beyond two sigma"},
		"four of five":              {[]float64{1.1, 1.2, 0, 1.3, 1.1}, true, "four of five beyond one sigma"},
		"three of five":             {[]float64{1.1, 0.2, 0, 1.3, 1.1}, false, "four of five beyond one sigma"},
		"eight on one side":         {[]float64{.1, .2, .1, .3, .1, .2, .1, .2}, true, "eight in a row on one side"},
		"seven on one side":         {[]float64{-.1, .2, .1, .3, .1, .2, .1, .2}, false, "eight in a row on one side"},
		"six rising":                {[]float64{-.5, -.3, -.1, .1, .3, .5}, true, "six in a row going one way"},
		"six falling":               {[]float64{.5, .3, .1, -.1, -.3, -.5}, true, "six in a row going one way"},
		"five rising":               {[]float64{-.2, -.3, -.1, .1, .3, .5}, false, "six in a row going one way"},
		"a step on the level":       {[]float64{-.5, -.3, -.3, .1, .3, .5}, false, "six in a row going one way"},
	} {
		assert.Equal(t, c.ends, strings.Contains(strings.Join(signals(c.values, 0, 1), ";"), c.says), name)
	}
}
