package design

import "fmt"

// inside checks that a body stands in another one that stands in none.
func (c *variantCheck) inside(v *Variant, i int, at string) {
	b := &v.Bodies[i]
	if b.Inside == "" {
		return
	}
	c.body(b.Inside, at)
	for k := range v.Bodies {
		switch o := &v.Bodies[k]; {
		case o.ID != b.Inside:
		case k == i:
			c.add(at, "a body cannot stand in itself")
		case o.Inside != "":
			c.add(at, "%s stands in something itself: one housing in another is not understood", o.Name)
		}
	}
}

// layouts checks that each is of a body, and the only one of it.
func (c *variantCheck) layouts(v *Variant, at string) {
	on := map[string]bool{}
	for i := range v.Layouts {
		l, here := &v.Layouts[i], fmt.Sprintf("%s/layouts/%d", at, i)
		c.id(l.ID, here)
		c.body(l.BodyID, here+"/bodyId")
		if on[l.BodyID] {
			c.add(here+"/bodyId", "%q has a layout already", l.BodyID)
		}
		on[l.BodyID] = true
	}
}

// stepDowns checks that what is lowered by heat comes back below that.
func (c *variantCheck) stepDowns(feeds []Feed, at string) {
	var walk func(nodes []Node, here string)
	walk = func(nodes []Node, here string) {
		for i := range nodes {
			there := fmt.Sprintf("%s/loads/%d", here, i)
			if d := nodes[i].Driver; d != nil && d.StepDown != nil {
				s := d.StepDown
				c.body(s.BodyID, there+"/driver/stepDown/bodyId")
				if s.AtC != nil && s.BackC != nil && *s.BackC >= *s.AtC {
					c.add(there+"/driver/stepDown/backC", "it is lowered from %v °C on and must be back below that, not at %v °C", *s.AtC, *s.BackC)
				}
			}
			walk(nodes[i].Loads, there)
		}
	}
	for i := range feeds {
		walk(feeds[i].Loads, fmt.Sprintf("%s/feeds/%d", at, i))
	}
}
