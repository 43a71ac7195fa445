package app

import (
	"glasspocket/internal/intake"
)

// ImportPage makes a widget folder from an HTML page. It stores nothing.
func (a *App) ImportPage(s Scope, ask intake.Ask) (*intake.Made, error) {
	if err := s.require(releaseWidgets); err != nil {
		return nil, err
	}
	m, faults := intake.Make(ask, a.builder)
	if len(faults) > 0 {
		return nil, faulty("page-faulty", faults[0].What, faults)
	}
	return m, nil
}
