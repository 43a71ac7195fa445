package host

// Needs are what a widget needs of the page that it stands in.
type Needs struct {
	Script  bool `json:"script"`  // what it shows or does depends on its script
	Storage bool `json:"storage"` // it remembers something of a visitor
	Forms   bool `json:"forms"`   // visitors send something
	Live    bool `json:"live"`    // something comes while the page is open
	Floats  bool `json:"floats"`  // it lies over the page
	Wraps   bool `json:"wraps"`   // it shows content of the page
	Page    bool `json:"page"`    // it asks the page for something: facts, or what is being read
}
