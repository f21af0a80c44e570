package archive

import (
	"archive/zip"
	"context"
	"fmt"

	"photherm/app/exchange"
	"photherm/app/store"
)

// mostPhotoBytes bounds a photo.
const mostPhotoBytes = 16 << 20

func photoFile(light, id, kind string) string {
	return fmt.Sprintf("lights/%s/photos/%s.%s", light, id, kind)
}

func putPhotos(ctx context.Context, z *zip.Writer, s *store.Store, light string) error {
	photos, err := s.Photos(ctx, light)
	if err != nil {
		return err
	}
	for _, p := range photos {
		_, data, err := s.Photo(ctx, p.ID)
		if err != nil {
			return err
		}
		if err := put(z, photoFile(light, p.ID, "json"), p); err != nil {
			return err
		}
		if err := putRaw(z, photoFile(light, p.ID, p.Kind), data); err != nil {
			return err
		}
	}
	return nil
}

func (a *Archive) photo(light, id string) (*store.Photo, []byte, error) {
	name := photoFile(light, id, "json")
	p := new(store.Photo)
	if err := a.read(name, p); err != nil {
		return nil, nil, err
	}
	if p.ID != id || p.LightID != light || !wellFormedID.MatchString(id) || !fits(p.Sitting, 140) || !fits(p.Caption, 300) || !dated(p.CreatedAt) {
		return nil, nil, unfit("%s is not understood", name)
	}
	data, err := a.bytes(photoFile(light, id, p.Kind), mostPhotoBytes)
	if err != nil {
		return nil, nil, err
	}
	if kind, err := exchange.PhotoKind(data); err != nil || kind != p.Kind {
		return nil, nil, unfit("%s is no photo", photoFile(light, id, p.Kind))
	}
	return p, data, nil
}

// takeInPhotos brings the photos of a light in with it, as takeInLogs does its logs.
func (a *Archive) takeInPhotos(ctx context.Context, s *store.Store, light string, o store.Outcome) error {
	if o == store.Copied || o == store.Differs {
		return nil
	}
	for _, id := range a.photos[light] {
		p, data, err := a.photo(light, id)
		if err != nil {
			return err
		}
		if _, err := s.AddPhoto(ctx, *p, data); err != nil {
			return err
		}
	}
	return nil
}
