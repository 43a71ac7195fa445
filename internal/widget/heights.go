package widget

import (
	"strconv"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
)

// HeightMost is the largest height that can be reserved, in CSS pixels; HeightsMost is the largest
// number of widths.
const (
	HeightMost  = 5000
	HeightsMost = 50
)

// follows reports whether h can come after heights for smaller widths.
func (h Height) follows(list []Height) bool {
	first := len(list) == 0
	return h.Height >= 1 && h.Height <= HeightMost && len(list) < HeightsMost &&
		(first && h.From == 0 || !first && h.From > list[len(list)-1].From)
}

// within reports whether the height above the page's content is part of the total.
func (h Height) within() bool { return h.Above >= 0 && h.Above <= h.Height }

// HeightsFit reports whether heights follow the rules of a manifest: whole pixels from 1 to
// HeightMost, the first for width 0, and each next for a larger width.
func HeightsFit(list []Height) bool {
	for i, h := range list {
		if !h.follows(list[:i]) || !h.within() {
			return false
		}
	}
	return true
}

func readHeights(v *jsondoc.Value) (list []Height, faults fault.List) {
	if v == nil || v.Kind != jsondoc.Array {
		return nil, nil
	}
	for _, item := range v.Items {
		more := item.Expect("a height", HeightKeys)
		faults = append(faults, more...)
		if len(more) > 0 {
			continue
		}
		from, err1 := strconv.Atoi(item.Get("from").Text)
		height, err2 := strconv.Atoi(item.Get("height").Text)
		above, _ := strconv.Atoi(textOr(item.Get("above"), "0"))
		h := Height{from, height, above}
		switch {
		case err1 != nil || err2 != nil || !h.follows(list):
			faults = append(faults, item.Fault(fault.WrongType, "heights", "Heights are at most 50 whole numbers of pixels from 1 to 5000. The first is for width 0, and each next one for a greater width.", `Write [{"from": 0, "height": 220}, {"from": 480, "height": 130}].`))
		case !h.within():
			faults = append(faults, item.Get("above").Fault(fault.WrongType, "heights", "\"above\" must be less than the height.", "Write the number of pixels above the page's own content."))
		default:
			list = append(list, h)
		}
	}
	return list, faults
}
