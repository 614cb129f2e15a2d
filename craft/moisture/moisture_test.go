package moisture

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
)

var start = time.Date(2031, 1, 10, 9, 0, 0, 0, time.UTC)

func log(pairs ...float64) (readings []Reading) {
	for i := 0; i < len(pairs); i += 2 {
		readings = append(
			readings,
			Reading{At: start.Add(time.Duration(pairs[i] * 24 * float64(time.Hour))), Percent: pairs[i+1]},
		)
	}
	return readings
}

func TestEMC(t *testing.T) {
	for _, c := range []struct{ temperature, humidity, emc float64 }{
		{21.1, 20, 4.49}, {21.1, 50, 9.24}, {21.1, 80, 15.99}, {20, 65, 12.00}, {25, 35, 6.86},
	} {
		assert.InDelta(t, c.emc, Air{c.temperature, c.humidity}.EMC(), 0.006)
	}
	assert.InDelta(t, 6.9, UsualHome.Heating.EMC(), 0.05)
	assert.InDelta(t, 10.9, UsualHome.Summer.EMC(), 0.05)
	assert.InDelta(t, 8.9, UsualHome.Mean(), 0.05)
}

func TestMovement(t *testing.T) {
	c := Coefficient(0.00353, 0.00165, 0)
	assert.InDelta(t, 3.39, 240*c*4, 0.005)
	assert.InDelta(t, 0.00165, Coefficient(0.00353, 0.00165, 90), 1e-9)
	assert.InDelta(t, 0.61, CupDrying(240, 150, 0.00353, 0.00165, 4), 0.005)
	assert.InDelta(t, 2.54, CupWet(240, 20, c, 2), 0.005)
}

func TestDaysTo(t *testing.T) {
	assert.InDelta(t, 19, DaysTo(11, 9.5, 8.5, Tau(25, nil)), 0.5)
	assert.InDelta(t, 67, DaysTo(11, 9.5, 8.5, Tau(50, nil)), 0.5)
	assert.True(t, math.IsInf(DaysTo(14, 10, 12, 21), 1), "the shop is damper than the goal")
	assert.Zero(t, DaysTo(9, 9.5, 8.5, 21), "already there")
}

func TestDryFitsTheLog(t *testing.T) {
	shop := Air{18, 45} // rests at 8.6 or so
	emc := shop.EMC()
	var exact []Reading
	for day := 0.0; day <= 20; day += 5 {
		exact = append(exact, log(day, emc+6*math.Exp(-day/30))...)
	}
	d := Dry(exact, shop, Target{Home: UsualHome}, 25, nil)
	require.True(t, d.Fitted)
	assert.InEpsilon(t, 30, d.Tau, 0.01)
	assert.False(t, d.Never)
	assert.InEpsilon(t, 0.3, (d.High-d.Days)/max(d.Days, 1e-9)+1e-9, 0.01, "the band is never narrower than 30 %")

	require.NotEmpty(t, d.Curve)
	first, end := d.Curve[0], d.Curve[len(d.Curve)-1]
	assert.Equal(t, exact[0].At, first.At, "a fitted curve goes back to the first reading")
	assert.InDelta(t, exact[0].Percent, first.Percent, 0.1)
	assert.Less(t, end.Low, end.Percent)
	assert.Less(t, end.Percent, end.High)
	assert.Greater(t, end.Low, emc)

	rough := Dry(log(0, 12.1, 9, 10.9, 18, 10.4, 27, 9.6), shop, Target{Home: UsualHome}, 25, nil)
	require.True(t, rough.Fitted)
	for _, p := range rough.Curve {
		if p.At.Equal(start) {
			assert.InDelta(t, 12.1, p.Percent, 0.3, "the curve runs among the readings")
		}
	}

	assert.Empty(t, Dry(log(0, 14), shop, Target{Home: UsualHome}, 25, nil).Curve)
	assert.False(t, Dry(log(0, 14), shop, Target{Home: UsualHome}, 25, nil).Known, "one reading claims no trend")
	two := Dry(log(0, 14, 9, 13), shop, Target{Home: UsualHome}, 25, nil)
	assert.True(t, two.Known && !two.Fitted)
	assert.True(t, Dry(log(0, 26, 9, 24), Air{12, 85}, Target{Home: UsualHome}, 25, nil).Never)
}

func TestJudge(t *testing.T) {
	for _, c := range []struct {
		name  string
		log   []Reading
		ready bool
	}{
		{"no reading", nil, false},
		{"below the range", []Reading{{At: start, Below: true}}, false},
		{"damp", log(0, 14, 9, 13.8), false},
		{"too dry", log(0, 5, 9, 5), false},
		{"one reading", log(0, 9), false},
		{"too close together", log(0, 9, 2, 9), false},
		{"still moving", log(0, 10.2, 6, 9.2), false},
		{"in balance", log(0, 9.4, 6, 9.2), true},
		{"in any order", log(6, 9.2, 0, 9.4), true},
	} {
		t.Run(c.name, func(t *testing.T) {
			r := Judge(c.log, Target{Home: UsualHome}, nil)
			assert.Equal(t, c.ready, r.Ready)
			assert.NotEmpty(t, r.Verdict.Finding)
			if v := r.Verdict; len(c.log) == 0 || c.log[0].Below { // not "0 % away" from what nobody has read
				assert.Equal(t, craft.Count, v.Figure.Unit)
				assert.True(t, v.AtLeast && v.Figure.Value < v.Limit)
			}
		})
	}
}

func TestCheck(t *testing.T) {
	assert.Empty(t, Check("m", log(0, 9), start))
	assert.Len(t, Check("m", log(5, 9), start), 1, "a reading from the future")
	assert.Len(t, Check("m", []Reading{{At: start, Percent: -1}}, start), 1)
	assert.Len(t, Air{20, 140}.Check("air"), 1)
}

func TestReadingsAreCorrected(t *testing.T) {
	m := Meter{Correction: 0.8, Lowest: 6}
	r := m.Read(8.4, start)
	assert.InDelta(t, 9.2, r.Value(), 1e-9)
	assert.False(t, r.Below)
	assert.True(t, m.Read(5.9, start).Below, "below the range is not a number")
	raw, put := log(0, 7.9, 9, 7.9), log(0, 7.9, 9, 7.9)
	for i := range put {
		put[i].Correction = 0.8
	}
	assert.InDelta(t, 7.9, Judge(raw, Target{Home: UsualHome}, nil).Latest, 1e-9)
	assert.InDelta(t, 8.7, Judge(put, Target{Home: UsualHome}, nil).Latest, 1e-9)
	assert.Len(t, Meter{Correction: 20, Lowest: -1}.Check("meter"), 2)
}

func TestAHomeDryPieceIsTheTarget(t *testing.T) {
	dry := log(0, 12.1, 9, 12)
	assert.False(t, Judge(dry, Target{Home: UsualHome}, nil).Ready)
	assert.True(t, Judge(dry, Target{Home: UsualHome, Reference: 12.4}, nil).Ready)
	tropics := Places[4].Home
	assert.False(t, Judge(log(0, 9, 9, 9), Target{Home: tropics}, nil).Ready, "drier than a damp home")
}

// 11 to 9.5 % toward 8.5 takes 67 days at 50 mm, 19 at 25: so long is saved.
func TestMilledThinnerFirst(t *testing.T) {
	shop := Air{Temperature: 20, Humidity: 45.15} // rests at 8.5
	require.InDelta(t, 8.5, shop.EMC(), 0.02)
	d := Dry(log(0, 11.2, 9, 11), shop, Target{Reference: 8}, 50, nil)
	assert.InDelta(t, 67, d.Days, 2)
	half := d.Thinner[len(d.Thinner)-1]
	assert.InDelta(t, 25, half.Thickness, 1e-9)
	assert.InDelta(t, 19, half.Days, 1)
	assert.InDelta(t, d.Days-half.Days, half.Saves, 1e-9)
	require.NotNil(t, d.ReadyAt)
	assert.InDelta(t, 9.5, d.At(*d.ReadyAt), 0.01, "the trend meets the band when it says")
	one := Dry(log(0, 14), shop, Target{Home: UsualHome}, 25, nil)
	assert.InDelta(
		t,
		shop.EMC()+(14-shop.EMC())*math.Exp(-1),
		one.At(start.AddDate(0, 0, 21)),
		0.01,
		"one reading follows the rule",
	)
}

// Within the band there is nothing to wait for; what the air carries away from the home
// never gets there, also when it is dry; exactly the drift allowed is no drift.
func TestDaysToTheBand(t *testing.T) {
	shop := Air{18, 45}
	emc := shop.EMC()
	mean := UsualHome.Mean()
	for _, c := range []struct {
		name    string
		percent float64
		air     Air
		days    bool
		never   bool
	}{
		{"within the band", mean + 1, shop, false, false},
		{"at its very edge", mean + 1.5, shop, false, false},
		{"damp, and drying", mean + 3, shop, true, false},
		{"damp, and the shop is damper", mean + 3, Air{18, 85}, false, true},
		{"dry, and the shop is drier", mean - 3, Air{18, 10}, false, true},
		{"dry, and the shop is damp", mean - 3, Air{18, 60}, true, false},
	} {
		d := Dry(log(0, c.percent, 6, c.percent), c.air, Target{Home: UsualHome}, 30, nil)
		assert.Equal(t, c.days, d.Days > 0, "%s: %.1f days", c.name, d.Days)
		assert.Equal(t, c.never, d.Never, c.name)
		assert.Equal(t, c.days, d.ReadyAt != nil, c.name)
	}
	require.Greater(t, emc, 8.0)
	edge := Judge(log(0, mean+0.5, 6, mean), Target{Home: UsualHome}, nil)
	assert.True(t, edge.Ready, "exactly half a point apart")
	one := Dry(log(0, mean+3), shop, Target{Home: UsualHome}, 30, nil)
	two := Dry(log(0, mean+3, 6, mean+3), shop, Target{Home: UsualHome}, 30, nil)
	assert.False(t, one.Known)
	assert.InDelta(t, two.Days, one.Days, 1e-9, "by the rule")
	assert.Empty(t, one.Curve)
}

// A damp piece is read again when half a point is to be seen, never sooner than after five
// days; one that has come to rest is not.
func TestNextReading(t *testing.T) {
	read := time.Date(2031, 3, 1, 12, 0, 0, 0, time.UTC)
	for _, c := range []struct {
		above, tau float64
		days       float64
	}{
		{4, 60, -60 * math.Log(1-0.5/4)}, {8, 20, 5}, {0.6, 30, -30 * math.Log(1-0.5/0.6)},
	} {
		d := Drying{Tau: c.tau, EMC: 9, Read: read, above: c.above}
		next := d.NextReading()
		require.NotNil(t, next)
		assert.InDelta(t, c.days, next.Sub(read).Hours()/24, 1e-6)
		assert.LessOrEqual(t, d.At(*next), d.At(read)-0.5+1e-6)
	}
	assert.Nil(t, Drying{Tau: 30, Read: read, above: 0.4}.NextReading())
	assert.Zero(t, Drying{above: -1}.Loses())
}
