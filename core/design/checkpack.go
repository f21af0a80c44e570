package design

import "fmt"

// pack looks at what hangs on a pack, and at cells that were measured one by one.
func (c *variantCheck) pack(p *Pack, at string) {
	c.ref(p.ProtectionID, at+"/protectionId", "a protection board", func(p *Part) bool { return p.Protect != nil })
	if p.Charger != nil {
		c.ref(p.Charger.PartID, at+"/charger/partId", "a charger", func(p *Part) bool { return p.Charger != nil })
	}
	if p.CutoffCellV != nil && p.ReleaseCellV != nil && *p.ReleaseCellV <= *p.CutoffCellV {
		c.add(at+"/releaseCellV", "a release of %v V is not above the cut-off of %v V: it would switch on and off without end", *p.ReleaseCellV, *p.CutoffCellV)
	}
	if n := len(p.Groups); n > 0 && n != p.Series {
		c.add(at+"/groups", "lists %d groups of a pack with %d in series: group its cells anew, or take their own figures out", n, p.Series)
	}
}

// cell looks at the figures of a cell against each other.
func (c *checker) cell(m *Cell, at string) {
	for k := 1; k < len(m.AtLoads); k++ {
		a, b := m.AtLoads[k-1], m.AtLoads[k]
		here := fmt.Sprintf("%s/capacityAgainstLoad/%d", at, k)
		switch {
		case b.CurrentA <= a.CurrentA:
			c.add(here, "current must rise from point to point: %v A comes after %v A", b.CurrentA, a.CurrentA)
		case b.CapacityAh > a.CapacityAh:
			c.add(here, "a cell gives no more the harder it works: %v Ah at %v A after %v Ah at %v A", b.CapacityAh, b.CurrentA, a.CapacityAh, a.CurrentA)
		}
	}
	if m.MinV != nil && m.FullV != nil && *m.MinV >= *m.FullV {
		c.add(at+"/minV", "a cell emptied at %v V cannot be full at %v V", *m.MinV, *m.FullV)
	}
	if m.ChargeMinC != nil && m.ChargeMaxC != nil && *m.ChargeMinC >= *m.ChargeMaxC {
		c.add(at+"/chargeMinC", "it is charged above this and below %v °C: no temperature is left", *m.ChargeMaxC)
	}
}

func (c *checker) protection(p *Protection, at string) {
	switch {
	case p.ReleaseCellV != nil && *p.ReleaseCellV <= p.CutCellV:
		c.add(at+"/releaseCellV", "a release of %v V is not above the cut-off of %v V", *p.ReleaseCellV, p.CutCellV)
	case p.OverCellV != nil && *p.OverCellV <= p.CutCellV:
		c.add(at+"/cutCellV", "a cut-off of %v V is not below the %v V at which it stops charging", p.CutCellV, *p.OverCellV)
	case p.OverCellV != nil && p.OverFreeV != nil && *p.OverFreeV >= *p.OverCellV:
		c.add(at+"/overReleaseCellV", "charging is let again below %v V, which is not below the %v V at which it stops", *p.OverFreeV, *p.OverCellV)
	}
}
