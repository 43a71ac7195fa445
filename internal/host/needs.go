package host

// Needs are what a widget needs from its page.
type Needs struct {
	Script  bool `json:"script"`  // its function depends on its script
	Storage bool `json:"storage"` // it stores data about a visitor
	Forms   bool `json:"forms"`   // visitors send data
	Live    bool `json:"live"`    // it receives data while the page is open
	Floats  bool `json:"floats"`  // it is above the page
	Wraps   bool `json:"wraps"`   // it shows content of the page
	Page    bool `json:"page"`    // it asks the page for something: facts, or the reading position
}
