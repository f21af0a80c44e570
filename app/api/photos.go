package api

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"photherm/app/exchange"
	"photherm/app/store"
)

// BenchPhoto is a photo of a light, without its bytes.
type BenchPhoto struct {
	ID        string    `json:"id"`
	Sitting   string    `json:"sitting" doc:"Id of the sitting at the bench it was taken at; empty: the one that is open"`
	Caption   string    `json:"caption"`
	Bytes     int       `json:"bytes"`
	CreatedAt time.Time `json:"createdAt"`
}

// PhotoWords are what is said of a photo.
type PhotoWords struct {
	Sitting string `json:"sitting" maxLength:"140"`
	Caption string `json:"caption" maxLength:"300"`
}

// PhotoPath is the path of a photo.
type PhotoPath struct {
	ID    string `path:"id" pattern:"^[a-z2-7]{16}$" doc:"Id of the light"`
	Photo string `path:"photo" pattern:"^[a-z2-7]{16}$" doc:"Id of the photo"`
}

// mostPhotoBytes bounds a photo; the page makes them smaller before it sends them.
const mostPhotoBytes = 8 << 20

func (s *server) photos(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "list-photos", Method: http.MethodGet, Path: "/api/lights/{id}/photos", Summary: "Photos of a light", Errors: []int{503}},
		func(ctx context.Context, in *struct {
			ID string `path:"id" pattern:"^[a-z2-7]{16}$"`
		}) (*struct{ Body []BenchPhoto }, error) {
			photos, err := s.store.Photos(ctx, in.ID)
			if err != nil {
				return nil, s.failure(ctx, err)
			}
			out := make([]BenchPhoto, len(photos))
			for i := range photos {
				out[i] = benchPhoto(&photos[i])
			}
			return &struct{ Body []BenchPhoto }{out}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "add-photo", Method: http.MethodPost, Path: "/api/lights/{id}/photos", Summary: "Keep a photo of a light", DefaultStatus: 201, MaxBodyBytes: mostPhotoBytes, Errors: []int{404, 409, 413, 422, 503}},
		func(ctx context.Context, in *struct {
			ID      string `path:"id" pattern:"^[a-z2-7]{16}$"`
			Sitting string `query:"sitting" maxLength:"140"`
			Caption string `query:"caption" maxLength:"300"`
			RawBody []byte `contentType:"image/*"`
		}) (*struct{ Body BenchPhoto }, error) {
			if _, err := s.store.Get(ctx, in.ID); err != nil && !errors.Is(err, store.ErrUnreadable) {
				return nil, s.failure(ctx, err)
			}
			kind, err := exchange.PhotoKind(in.RawBody)
			if err != nil {
				return nil, refused("body", err)
			}
			p, err := s.store.AddPhoto(ctx, store.Photo{LightID: in.ID, Sitting: in.Sitting, Caption: strings.TrimSpace(in.Caption), Kind: kind}, in.RawBody)
			if err != nil {
				return nil, s.failure(ctx, err)
			}
			return &struct{ Body BenchPhoto }{benchPhoto(p)}, nil
		})
	picture := map[string]*huma.Response{"200": {Description: "The photo", Content: map[string]*huma.MediaType{"image/jpeg": {Schema: &huma.Schema{Type: "string", Format: "binary"}}}}}
	huma.Register(api, huma.Operation{OperationID: "photo", Method: http.MethodGet, Path: "/api/lights/{id}/photos/{photo}", Summary: "A photo", Errors: []int{404, 503}, Responses: picture},
		func(ctx context.Context, in *PhotoPath) (*struct {
			Type  string `header:"Content-Type"`
			Cache string `header:"Cache-Control"`
			Body  []byte
		}, error) {
			p, data, err := s.photoOf(ctx, in)
			if err != nil {
				return nil, err
			}
			return &struct {
				Type  string `header:"Content-Type"`
				Cache string `header:"Cache-Control"`
				Body  []byte
			}{"image/" + p.Kind, "private, max-age=86400", data}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "change-photo", Method: http.MethodPut, Path: "/api/lights/{id}/photos/{photo}", Summary: "Say what a photo is of", DefaultStatus: 204, Errors: []int{404, 422, 503}},
		func(ctx context.Context, in *struct {
			PhotoPath
			Body PhotoWords
		}) (*struct{}, error) {
			if _, _, err := s.photoOf(ctx, &in.PhotoPath); err != nil {
				return nil, err
			}
			return nil, s.clean(ctx, s.store.ChangePhoto(ctx, in.Photo, in.Body.Sitting, strings.TrimSpace(in.Body.Caption)))
		})
	huma.Register(api, huma.Operation{OperationID: "drop-photo", Method: http.MethodDelete, Path: "/api/lights/{id}/photos/{photo}", Summary: "Take a photo out for good", Errors: []int{404, 503}},
		func(ctx context.Context, in *PhotoPath) (*struct{}, error) {
			if _, _, err := s.photoOf(ctx, in); err != nil {
				return nil, err
			}
			return nil, s.clean(ctx, s.store.DropPhoto(ctx, in.Photo))
		})
}

func (s *server) photoOf(ctx context.Context, in *PhotoPath) (*store.Photo, []byte, error) {
	p, data, err := s.store.Photo(ctx, in.Photo)
	if err == nil && p.LightID != in.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, nil, s.failure(ctx, err)
	}
	return p, data, nil
}

func benchPhoto(p *store.Photo) BenchPhoto {
	return BenchPhoto{ID: p.ID, Sitting: p.Sitting, Caption: p.Caption, Bytes: p.Bytes, CreatedAt: p.CreatedAt}
}
