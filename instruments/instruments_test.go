package instruments

import (
	"context"
	"encoding/json"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/moisture"
)

var noon = time.Date(2031, 3, 4, 12, 0, 0, 0, time.UTC)

func TestMeterIsALittleOff(t *testing.T) {
	seen := map[float64]bool{}
	for i := range 50 {
		r := Meter{Truth: 9.4, Lowest: 6}.Read(noon.Add(time.Duration(i) * time.Minute))
		require.NotNil(t, r.Percent)
		assert.InDelta(t, 9.4, *r.Percent, 0.25)
		seen[*r.Percent] = true
	}
	assert.Greater(t, len(seen), 1)
	r := Meter{Truth: 4, Lowest: 6}.Read(noon)
	assert.True(t, r.Below)
	assert.Nil(t, r.Percent, "below is not a number")
}

func TestRoomSwingsThroughTheDay(t *testing.T) {
	room := Room{moisture.Air{Temperature: 18, Humidity: 50}}
	night, day := room.Read(noon.Add(-9*time.Hour)), room.Read(noon.Add(3*time.Hour))
	assert.Less(t, *night.Temperature, *day.Temperature)
	assert.Greater(t, *night.Humidity, *day.Humidity)
	assert.Nil(t, day.Percent)
}

func TestPushCarriesKeyAndReading(t *testing.T) {
	var key string
	var got Reading
	status := http.StatusNoContent
	s := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		key = r.Header.Get("Authorization")
		assert.NoError(t, json.NewDecoder(r.Body).Decode(&got))
		w.WriteHeader(status)
	}))
	defer s.Close()
	p := Pusher{s.Client(), s.URL, "secret"}
	require.NoError(t, p.Push(context.Background(), Meter{Truth: 9, Lowest: 5}.Read(noon)))
	assert.Equal(t, "Bearer secret", key)
	assert.InDelta(t, 9, *got.Percent, 0.3)
	status = http.StatusUnauthorized
	assert.ErrorContains(t, p.Push(context.Background(), Reading{}), "401")
}
