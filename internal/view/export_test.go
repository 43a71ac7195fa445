package view

// ByProgram renders by the view's program alone; false when there is none, or it gives up.
func ByProgram(v *View, d Data) (Rendered, bool) {
	if v.program == nil {
		return Rendered{}, false
	}
	run := newInstance()
	*run.data = d
	err := run.byProgram(v.program)
	return run.rendered(), err == nil
}

// ByTemplate renders by html/template alone.
func ByTemplate(v *View, d Data) (Rendered, error) {
	run := newInstance()
	*run.data = d
	err := run.byTemplate(v)
	return run.rendered(), err
}

var HostileData, HostileTypes = data, types
