package api

import (
	"bytes"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"
)

func picture(t *testing.T, kind string) string {
	t.Helper()
	img := image.NewPaletted(image.Rect(0, 0, 40, 30), color.Palette{color.Black, color.White})
	for i := range img.Pix {
		img.Pix[i] = uint8(i % 2)
	}
	var b bytes.Buffer
	err := map[string]func() error{
		"jpeg": func() error { return jpeg.Encode(&b, img, nil) },
		"png":  func() error { return png.Encode(&b, img) },
		"gif":  func() error { return gif.Encode(&b, img, nil) },
	}[kind]()
	if err != nil {
		t.Fatal(err)
	}
	return b.String()
}

// A photo is kept as it is, said of, and goes out and comes in with everything; what is no picture,
// or not a whole one, is refused in a sentence, whatever it calls itself.
func TestPhotos(t *testing.T) {
	var light struct{ ID string }
	ask(t, "POST", "/api/lights", handlamp(t)).read(t, &light)
	path := "/api/lights/" + light.ID + "/photos"
	add := func(body, kind string) reply {
		t.Helper()
		return ask(t, "POST", path+"?sitting=v1&caption=The+star", body, "Content-Type", kind)
	}
	var photos [2]BenchPhoto
	for i, kind := range []string{"jpeg", "png"} {
		made := add(picture(t, kind), "image/"+kind)
		if made.read(t, &photos[i]); made.status != 201 || photos[i].Caption != "The star" || photos[i].Sitting != "v1" || photos[i].Bytes == 0 {
			t.Fatalf("%d %s", made.status, made.body)
		}
		got := ask(t, "GET", path+"/"+photos[i].ID, "")
		if got.status != 200 || string(got.body) != picture(t, kind) || got.header.Get("Content-Type") != "image/"+kind || got.header.Get("X-Content-Type-Options") != "nosniff" {
			t.Errorf("%s: %d %s", kind, got.status, got.header)
		}
	}
	one := path + "/" + photos[0].ID
	if r := ask(t, "PUT", one, `{"sitting":"v1/first","caption":" after the repair "}`); r.status != 204 {
		t.Errorf("%d %s", r.status, r.body)
	}
	list := func() (out []BenchPhoto) {
		t.Helper()
		ask(t, "GET", path, "").read(t, &out)
		return out
	}
	if all := list(); len(all) != 2 || all[0].Caption != "after the repair" || all[0].Sitting != "v1/first" {
		t.Errorf("%+v", all)
	}
	whole := picture(t, "jpeg")
	huge := picture(t, "png")
	huge = strings.Replace(huge, "\x00\x00\x00\x28\x00\x00\x00\x1e", "\x00\x01\x00\x00\x00\x01\x00\x00", 1) // its header claims 65536 × 65536
	for what, c := range map[string]struct {
		status int
		says   string
		r      reply
	}{
		"a page":             {422, "no photo", add("<html><script>alert(1)</script>", "image/jpeg")},
		"a gif":              {422, "neither JPEG nor PNG", add(picture(t, "gif"), "image/jpeg")},
		"half of one":        {422, "not all of it", add(whole[:len(whole)-10], "image/jpeg")},
		"a lie about size":   {422, "no photo", add(huge, "image/png")},
		"nothing":            {422, "", add(" ", "image/png")},
		"too much":           {413, "", add(strings.Repeat("x", 9<<20), "image/png")},
		"of no light":        {404, "", ask(t, "POST", "/api/lights/zzzzzzzzzzzzzzzz/photos", whole, "Content-Type", "image/jpeg")},
		"of another light":   {404, "", ask(t, "GET", "/api/lights/zzzzzzzzzzzzzzzz/photos/"+photos[0].ID, "")},
		"words of no photo":  {404, "", ask(t, "PUT", path+"/zzzzzzzzzzzzzzzz", `{"sitting":"","caption":""}`)},
		"no photo to go":     {404, "", ask(t, "DELETE", path+"/zzzzzzzzzzzzzzzz", "")},
		"a long story of it": {422, "", ask(t, "PUT", one, `{"sitting":"","caption":"`+strings.Repeat("x", 301)+`"}`)},
	} {
		if c.r.status != c.status || !strings.Contains(string(c.r.body), c.says) {
			t.Errorf("%s: %d %.300s", what, c.r.status, c.r.body)
		}
	}
	zip := ask(t, "GET", "/api/archive", "")
	if !strings.Contains(string(zip.body), "lights/"+light.ID+"/photos/"+photos[0].ID+".jpeg") {
		t.Error("the archive has no photo")
	}
	for _, p := range photos {
		if r := ask(t, "DELETE", path+"/"+p.ID, ""); r.status != 204 {
			t.Errorf("%d %s", r.status, r.body)
		}
	}
	for range 2 {
		ask(t, "POST", "/api/archive", string(zip.body), "Content-Type", "application/zip")
	}
	if all := list(); len(all) != 2 || all[0].Caption != "after the repair" {
		t.Errorf("after the archive: %+v", all)
	}
	if got := ask(t, "GET", one, ""); string(got.body) != whole {
		t.Errorf("after the archive it is another picture: %d", got.status)
	}
}
