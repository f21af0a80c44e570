package design

import (
	"bytes"
	"encoding/json"
	"fmt"
)

// upgrades bring a document from the version of its place, counted from 1, to
// the next. They work on plain JSON, so that they stay true when the types change.
var upgrades = []func(light map[string]any){
	arraysNameUnequalStrings,
	nothingMoved, // 3 added limitPoints and cutEdge to drivers, and measured loads as parts
	nothingMoved, // 4 added releaseCellV and cutoffDelayS to packs
	loadsGoOn,
	nothingMoved, // 6 added what is assumed, more of the brief, notes, sizes of drivers, the wanted current
	nothingMoved, // 7 added what is measured, adhesive of strip, constant light of a load, claims, whole boards
	nothingMoved, // 8 added layouts, housings that others stand in, sun, discs, coolers, drawn fins
	nothingMoved, // 9 added protection boards, chargers, cells measured one by one, what cells give at several loads
	nothingMoved, // 10 added optics, stands, scenes
	nothingMoved, // 11 added notes of sittings, alarms that watch a whole pack
}

// upgrade brings a file of an older version up to date.
func upgrade(data []byte, version int) ([]byte, error) {
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	var light map[string]any
	if err := dec.Decode(&light); err != nil {
		return nil, fmt.Errorf("reading a light of version %d: %w", version, err)
	}
	for _, step := range upgrades[version-1:] {
		step(light)
	}
	light["version"] = json.Number(fmt.Sprint(Version))
	out, err := json.Marshal(light)
	if err != nil {
		return nil, fmt.Errorf("bringing a light of version %d up to date: %w", version, err)
	}
	return out, nil
}

// nothingMoved is for a version that only added what may be absent.
func nothingMoved(map[string]any) {}

// arraysNameUnequalStrings takes version 1 to 2: an array's faults became its
// unequal strings, which may differ in more than faults.
func arraysNameUnequalStrings(light map[string]any) {
	everyObject(light["variants"], func(o map[string]any) {
		if a, ok := o["array"].(map[string]any); ok {
			if faults, there := a["faults"]; there {
				a["unequal"] = faults
				delete(a, "faults")
			}
		}
	})
}

// everyObject visits the objects in a part of a document, from the outside in.
func everyObject(x any, visit func(map[string]any)) {
	switch x := x.(type) {
	case []any:
		for _, e := range x {
			everyObject(e, visit)
		}
	case map[string]any:
		visit(x)
		for _, e := range x {
			everyObject(e, visit)
		}
	}
}

// loadsGoOn takes version 4 to 5: how a measured load goes on beyond its points became a
// choice of several. One that was not said to hold its power goes on along its end
// slopes: to hold its current was never said. The rest of 5 only added what may be absent.
func loadsGoOn(light map[string]any) {
	for _, list := range []any{light["variants"], light["parts"]} {
		everyObject(list, func(o map[string]any) {
			if l, ok := o["load"].(map[string]any); ok {
				if l["constantPowerBeyond"] == true {
					l["beyond"] = "power"
				}
				delete(l, "constantPowerBeyond")
			}
		})
	}
}
