package design

import "fmt"

// optic checks that it stands before what gives light, and that its table is one.
func (c *variantCheck) optic(n *Node, at string) {
	o := n.Optic
	if o == nil {
		return
	}
	if n.Array == nil && n.Strip == nil && n.Load == nil {
		c.add(at+"/optic", "only emitters, strip and measured loads give light that an optic could stand before")
	}
	if o.Table != nil {
		if err := o.Table.Fault(); err != nil {
			c.add(at+"/optic/table", "the intensity table: %v", err)
		}
	} else if o.Kind == "table" {
		c.add(at+"/optic/kind", "there is no intensity table: bring one in, or choose another kind")
	}
	if o.SpotDeg != nil && o.SpillDeg != nil && *o.SpotDeg >= *o.SpillDeg {
		c.add(at+"/optic/spotDeg", "the spot, %v°, is the narrower part: the spill has %v°", *o.SpotDeg, *o.SpillDeg)
	}
}

// stands checks that they are of bodies.
func (c *variantCheck) stands(v *Variant, at string) {
	for i := range v.Stands {
		c.body(v.Stands[i].BodyID, fmt.Sprintf("%s/stands/%d/bodyId", at, i))
	}
}
