package workshop

import (
	"glasspocket/internal/app/access"
	"glasspocket/internal/intake"
	"glasspocket/internal/problem"
)

// ImportPage makes a widget folder from an HTML page. It stores nothing.
func (a *Workshop) ImportPage(s access.Scope, ask intake.Ask) (*intake.Made, error) {
	if err := s.Require(access.ReleaseWidgets); err != nil {
		return nil, err
	}
	m, faults := intake.Make(ask, a.builder)
	if len(faults) > 0 {
		return nil, problem.Faulty("page-faulty", faults[0].What, faults)
	}
	return m, nil
}
