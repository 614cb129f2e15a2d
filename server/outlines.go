package server

import (
	"context"
	"errors"
	"fmt"
	"image"
	"math"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/photo"
	"idletimber/craft/photo/scene"
	"idletimber/craft/slab"
	"idletimber/formats"
	"idletimber/store"
)

// upload is a file sent as it is.
type upload struct {
	RawBody []byte `contentType:"application/octet-stream"`
}

// takes lets an operation read a file of up to so many bytes.
func takes(most int64) func(*huma.Operation) {
	return func(op *huma.Operation) {
		op.MaxBodyBytes = most + 1<<10 // a little over, so that the reader can say what is too large
		op.BodyReadTimeout = time.Minute
	}
}

// PictureDoc is a picture that was kept.
type PictureDoc struct {
	ID     string `json:"id"`
	Width  int    `json:"width"`
	Height int    `json:"height"`
}

// FileOutline is a closed line of a file, turned lengthwise, as it may become
// a slab.
type FileOutline struct {
	Name   string    `json:"name"`
	Path   string    `json:"path"`
	Line   geom.Ring `json:"line" doc:"Simplified within a tenth of a mm"`
	Area   float64   `json:"area" doc:"mm²"`
	Length float64   `json:"length"`
	Width  float64   `json:"width"`

	Nodes []board.Node `json:"nodes" doc:"The same as a board's outline, about its middle"`
}

// FoundOutline is what a photograph shows, in the slab's frame.
type FoundOutline struct {
	Dense  geom.Ring   `json:"dense" doc:"As found, to be simplified again within another tolerance"`
	Line   geom.Ring   `json:"line" doc:"Simplified within the tolerance"`
	Length float64     `json:"length"`
	Area   float64     `json:"area" doc:"mm²"`
	Error  float64     `json:"error" doc:"Expected error of the outline, mm rms"`
	Bend   float64     `json:"bend" doc:"Of the lens at the corner of the picture, %"`
	Ground *slab.Photo `json:"ground" doc:"The picture straightened, to lie under the drawing"`
}

// Simplifying asks for a line of fewer points.
type Simplifying struct {
	Line      geom.Ring `json:"line" minItems:"3" maxItems:"4000"`
	Tolerance float64   `json:"tolerance" minimum:"0.05" maximum:"20" doc:"How far it may stray, mm"`
}

// Finding asks for the outline of a slab on a picture.
type Finding struct {
	Corners   []geom.Point `json:"corners" minItems:"4" maxItems:"4" doc:"Of the sheet, in order round it, pixels"`
	Sheet     photo.Sheet  `json:"sheet"`
	Thickness float64      `json:"thickness" minimum:"1" maximum:"500" doc:"Of the slab, mm"`
	Tolerance float64      `json:"tolerance" minimum:"0.05" maximum:"20" doc:"How far it may stray, mm"`
	Under     bool         `json:"under" doc:"The picture shows the under face"`
}

// Tracing asks for the outline of a shape on a picture that is seen square from above.
type Tracing struct {
	Marks     []geom.Point `json:"marks" minItems:"2" maxItems:"2" doc:"Two places whose distance is known, pixels"`
	Distance  float64      `json:"distance" mm:"10,3000" doc:"Between them, mm"`
	Tolerance float64      `json:"tolerance" minimum:"0.05" maximum:"20" doc:"How far it may stray, mm"`
	Hand      bool         `json:"hand" doc:"Nothing is looked for: an oval to be drawn on from by hand"`
}

// OnNodes is a closed line as a board's outline, about its middle.
type OnNodes struct {
	Nodes  []board.Node `json:"nodes"`
	Length float64      `json:"length" doc:"mm"`
	Width  float64      `json:"width" doc:"mm"`
}

type findIn struct {
	ID   string `path:"id"`
	Body Finding
}

func (s *Server) outlineRoutes(api huma.API) {
	huma.Post(api, "/api/pictures", s.keepPicture, takes(formats.MostPictureBytes))
	huma.Post(api, "/api/pictures/sample", s.takeSample)
	huma.Get(api, "/api/pictures/{id}", s.picture, rawAnswer("image/jpeg"))
	huma.Post(api, "/api/pictures/{id}/find", s.findOutline)
	huma.Post(api, "/api/pictures/{id}/trace", s.traceOutline)
	huma.Post(api, "/api/outlines/nodes", drawnOn)
	huma.Post(api, "/api/outlines", func(ctx context.Context, in *upload) (*struct{ Body []FileOutline }, error) {
		found, err := formats.ReadOutlines(in.RawBody)
		if err != nil {
			return nil, huma.Error422UnprocessableEntity(err.Error())
		}
		out := &struct{ Body []FileOutline }{}
		for _, o := range found {
			o.Ring = fitWithin(o.Ring, 0.05)
			ring := fitWithin(o.Ring.Lengthwise(), 0.05)
			if len(ring) < 3 || ring.SelfCrosses() {
				continue
			}
			b := ring.Bounds()
			out.Body = append(
				out.Body,
				FileOutline{
					o.Name,
					ring.SVG(),
					ring,
					ring.Area(),
					b.MaxX - b.MinX,
					b.MaxY - b.MinY,
					nodesAbout(o.Ring),
				},
			)
		}
		if len(out.Body) == 0 {
			return nil, huma.Error422UnprocessableEntity(
				"every closed line in the file crosses itself, or is too ragged: draw the outline so that it runs " +
					"round once",
			)
		}
		return out, nil
	}, takes(formats.MostDrawingBytes))
	huma.Post(
		api,
		"/api/outlines/simplify",
		func(ctx context.Context, in *struct{ Body Simplifying }) (*struct{ Body geom.Ring }, error) {
			line := fitWithin(in.Body.Line, in.Body.Tolerance)
			if len(line) < 3 || line.Area() == 0 {
				return nil, asProblem("tolerance", errors.New("nothing is left of the line"))
			}
			return &struct{ Body geom.Ring }{line}, nil
		},
	)
}

type pictureOut struct {
	Status int
	Type   string `header:"Content-Type"`
	Cache  string `header:"Cache-Control"`
	ETag   string `header:"ETag"`
	Body   []byte
}

// picture is a kept picture. A browser keeps it too, and asks each time whether it
// still may show it: not after its maker has signed out.
func (s *Server) picture(ctx context.Context, in *struct {
	ID    string `path:"id"`
	Known string `header:"If-None-Match"`
}) (*pictureOut, error) {
	p, err := s.Store.Picture(ctx, account(ctx).Workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	out := &pictureOut{http.StatusOK, "image/jpeg", "private, no-cache", `"` + in.ID + `"`, p.Data}
	if in.Known == out.ETag { // a picture never changes
		out.Status, out.Body = http.StatusNotModified, nil
	}
	return out, nil
}

// nodesAbout is a ring by the nodes of a board's outline, as it lies in its file
// but about its own middle.
func nodesAbout(r geom.Ring) []board.Node {
	b := r.Bounds()
	return board.FewNodes(r.Map(geom.Point{X: -(b.MinX + b.MaxX) / 2, Y: -(b.MinY + b.MaxY) / 2}.Add))
}

// fitWithin simplifies a ring within a tolerance, or as far as it must be to be
// kept; nothing is left of what is no outline.
func fitWithin(r geom.Ring, tolerance float64) geom.Ring {
	const coarsest = 40 // mm
	for ; tolerance < coarsest; tolerance *= 1.5 {
		if out := r.Simplified(tolerance); len(out) <= slab.MostNodes {
			return out.Rounded(0.01)
		}
	}
	return nil
}

func (s *Server) keepPicture(ctx context.Context, in *upload) (*struct{ Body PictureDoc }, error) {
	doc, err := s.keptPicture(ctx, in.RawBody)
	return &struct{ Body PictureDoc }{doc}, err
}

// keptPicture reads a picture and keeps it.
func (s *Server) keptPicture(ctx context.Context, data []byte) (PictureDoc, error) {
	release, err := s.pictures.begin(ctx, account(ctx).Workshop)
	if err != nil {
		return PictureDoc{}, err
	}
	defer release()
	img, err := formats.ReadPicture(data)
	if err != nil {
		return PictureDoc{}, huma.Error422UnprocessableEntity(err.Error())
	}
	doc, err := s.store(ctx, img)
	return doc, answer(err)
}

// pictures bounds the pictures that are worked on, each of which takes some hundred
// megabytes: one of a workshop at a time, and so many of all.
type pictures struct {
	all chan struct{}
	mu  sync.Mutex
	by  map[string]chan struct{}
}

func newPictures() *pictures {
	return &pictures{all: make(chan struct{}, 2), by: map[string]chan struct{}{}}
}

// begin waits for a turn: first behind the workshop's own, then behind the others.
func (p *pictures) begin(ctx context.Context, workshop string) (done func(), err error) {
	p.mu.Lock()
	own, ok := p.by[workshop]
	if !ok {
		own = make(chan struct{}, 1)
		p.by[workshop] = own
	}
	p.mu.Unlock()
	busy := huma.Error503ServiceUnavailable("other pictures are being worked on; try again in a moment")
	select {
	case own <- struct{}{}:
	case <-ctx.Done():
		return nil, busy
	}
	select {
	case p.all <- struct{}{}:
	case <-ctx.Done():
		<-own
		return nil, busy
	}
	return func() {
		<-p.all
		<-own
	}, nil
}

func (s *Server) store(ctx context.Context, img image.Image) (PictureDoc, error) {
	data, err := formats.WritePicture(img)
	if err != nil {
		return PictureDoc{}, err
	}
	b := img.Bounds()
	id, err := s.Store.NewPicture(ctx, account(ctx).Workshop, store.Picture{Data: data, Width: b.Dx(), Height: b.Dy()})
	return PictureDoc{id, b.Dx(), b.Dy()}, err
}

// SamplePicture is a picture to try with, and where the sheet's corners are.
type SamplePicture struct {
	Picture PictureDoc   `json:"picture"`
	Corners []geom.Point `json:"corners" doc:"As a hand would mark them, pixels"`
}

// takeSample renders a slab on the ground with a sheet of A4, a function of the
// seed alone.
func (s *Server) takeSample(ctx context.Context, in *struct {
	Body struct {
		Seed int `json:"seed" minimum:"0" maximum:"1000000"`
	}
}) (*struct{ Body SamplePicture }, error) {
	release, err := s.pictures.begin(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, err
	}
	defer release()
	sample := scene.Sample(uint64(in.Body.Seed))
	doc, err := s.store(ctx, sample.Render())
	if err != nil {
		return nil, answer(err)
	}
	out := SamplePicture{Picture: doc}
	for i, c := range sample.Corners() {
		out.Corners = append(
			out.Corners,
			geom.Point{X: math.Round(c.X) + float64(i%2), Y: math.Round(c.Y) - float64(i/2)},
		)
	}
	return &struct{ Body SamplePicture }{out}, nil
}

// mostGround is how many pixels the straightened picture under a drawing has
// along its longer side.
const mostGround = 1800

// findOutline finds the slab's outline on a kept picture.
func (s *Server) findOutline(ctx context.Context, in *findIn) (*struct{ Body FoundOutline }, error) {
	var ps craft.Problems
	ps.InRange("body.sheet", in.Body.Sheet)
	if len(ps) > 0 {
		return nil, answer(ps)
	}
	img, release, err := s.readPicture(ctx, in.ID, "body.corners", in.Body.Corners)
	if err != nil {
		return nil, err
	}
	defer release()
	found, err := photo.Find(watching(ctx), img, [4]geom.Point(in.Body.Corners), in.Body.Sheet, in.Body.Thickness)
	if errors.Is(err, errGivenUp) {
		return nil, answer(err)
	}
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error())
	}
	if found.Length > 10000 {
		return nil, huma.Error422UnprocessableEntity(
			fmt.Sprintf("the slab would be %.0f m long: check the sheet's size", found.Length/1000),
		)
	}
	out, err := s.foundOutline(ctx, img, found, in.Body.Tolerance)
	if err != nil {
		return nil, answer(err)
	}
	if in.Body.Under { // seen turned over about the long axis
		over := func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }
		g := out.Ground
		out.Dense, out.Line, g.MinY, g.MaxY = out.Dense.Map(over), out.Line.Map(over), -g.MaxY, -g.MinY
	}
	return &struct{ Body FoundOutline }{out}, nil
}

// readPicture waits for a turn to work on a kept picture, on which marks were set, and reads it.
func (s *Server) readPicture(
	ctx context.Context,
	id, field string,
	marks []geom.Point,
) (img *image.RGBA, release func(), err error) {
	p, err := s.Store.Picture(ctx, account(ctx).Workshop, id)
	if err != nil {
		return nil, nil, answer(err)
	}
	var ps craft.Problems
	for i, c := range marks {
		at := fmt.Sprintf("%s[%d]", field, i)
		ps.Range(at+".x", c.X, 0, float64(p.Width))
		ps.Range(at+".y", c.Y, 0, float64(p.Height))
	}
	if len(ps) > 0 {
		return nil, nil, answer(ps)
	}
	if release, err = s.pictures.begin(ctx, account(ctx).Workshop); err != nil {
		return nil, nil, err
	}
	if img, err = formats.ReadPicture(p.Data); err != nil {
		release()
	}
	return img, release, err
}

// foundOutline keeps the picture straightened under an outline that was found on it.
func (s *Server) foundOutline(
	ctx context.Context,
	img *image.RGBA,
	found photo.Found,
	tolerance float64,
) (out FoundOutline, err error) {
	const rim = 25
	box := found.Outline.Bounds()
	box = geom.Bounds{MinX: box.MinX - rim, MinY: box.MinY - rim, MaxX: box.MaxX + rim, MaxY: box.MaxY + rim}
	scale := min(2, mostGround/math.Max(box.MaxX-box.MinX, box.MaxY-box.MinY))
	straight, err := s.store(ctx, found.Straightened(img, box, scale))
	if err != nil {
		return out, err
	}
	dense := fitWithin(found.Outline, 0.05)
	line := fitWithin(dense, tolerance)
	return FoundOutline{
		Dense: dense, Line: line, Length: found.Length, Area: line.Area(), Error: found.Error, Bend: found.Bend * 100,
		Ground: &slab.Photo{Picture: straight.ID, MinX: box.MinX, MinY: box.MinY, MaxX: box.MaxX, MaxY: box.MaxY},
	}, nil
}

// traceOutline finds the outline of a shape on a kept picture, scaled by two marks.
func (s *Server) traceOutline(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body Tracing
}) (*struct{ Body FoundOutline }, error) {
	var ps craft.Problems
	ps.InRange("body", in.Body)
	if len(ps) > 0 {
		return nil, answer(ps)
	}
	img, release, err := s.readPicture(ctx, in.ID, "body.marks", in.Body.Marks)
	if err != nil {
		return nil, err
	}
	defer release()
	marks := [2]geom.Point(in.Body.Marks)
	var found photo.Found
	if in.Body.Hand {
		found, err = photo.ByHand(img, marks, in.Body.Distance)
	} else {
		found, err = photo.Trace(watching(ctx), img, marks, in.Body.Distance)
	}
	if errors.Is(err, errGivenUp) {
		return nil, answer(err)
	}
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(err.Error())
	}
	out, err := s.foundOutline(ctx, img, found, in.Body.Tolerance)
	return &struct{ Body FoundOutline }{out}, answer(err)
}

// drawnOn gives a closed line as the outline of a board, by few nodes.
func drawnOn(_ context.Context, in *struct {
	Body struct {
		Line geom.Ring `json:"line" minItems:"3" maxItems:"4000"`
	}
}) (*struct{ Body OnNodes }, error) {
	line := fitWithin(in.Body.Line, 0.05)
	if len(line) < 3 || line.SelfCrosses() {
		return nil, asProblem("line", errors.New("the line crosses itself, or encloses nothing"))
	}
	b := line.Bounds()
	return &struct{ Body OnNodes }{OnNodes{nodesAbout(line), b.MaxX - b.MinX, b.MaxY - b.MinY}}, nil
}
