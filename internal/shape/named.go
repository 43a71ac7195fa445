package shape

// The objects that functions of the view language require by name.
var (
	// Moment is a wall-clock time in a zone; at is milliseconds since 1970 UTC.
	Moment = Object("moment", map[string]*Type{"at": Number, "utc": Text, "local": Text, "zone": Text})
	// Day is a calendar day without a zone; year is 0 if there is none.
	Day = Object("date", map[string]*Type{"iso": Text, "year": Number, "month": Number, "day": Number})
	// Duration is a length of time.
	Duration = Object("duration", map[string]*Type{"iso": Text, "seconds": Number})
	// LinkTo is an address and where it opens; target is "_self" or "_blank".
	LinkTo = Object("link", map[string]*Type{"address": Address, "target": OneOf("_self", "_blank")})
	// Image is an image with the sizes in which it is available; shown is false if there is none.
	// focusX and focusY are percentages of width and height.
	Image = Object("image", map[string]*Type{
		"shown": Switch, "address": Address, "alt": Text, "width": Number, "height": Number, "focusX": Number, "focusY": Number,
		"forms": ListOf(Object("", map[string]*Type{"address": Address, "width": Number, "height": Number})),
	})
	// Sound is an audio file; shown is false if there is none.
	Sound = Object("sound", map[string]*Type{"shown": Switch, "address": Address, "type": Text})
	// Money is an amount in a currency's minor units.
	Money = Object("money", map[string]*Type{"amount": Number, "currency": Text})
	// Rating is a number out of best, and the same as a share from 0 to 1; shown is false if there
	// is none.
	Rating = Object("rating", map[string]*Type{"shown": Switch, "value": Number, "best": Number, "part": Number})
)
