package delivery

import (
	"context"
	"strings"

	"glasspocket/internal/flat"
	"glasspocket/internal/host"
	"glasspocket/internal/problem"
	"glasspocket/internal/render"
	"glasspocket/internal/widget"
)

// ShownNow renders a publication for the present moment.
func (a *Delivery) ShownNow(ctx context.Context, p Publication) (payload render.Payload, subject render.Subject, err error) {
	if subject, err = a.Subject(ctx, p.ReleaseID, p); err != nil {
		return payload, subject, err
	}
	if _, err = a.Dress(ctx, p.CustomerID, p.Sources, &subject); err != nil {
		return payload, subject, err
	}
	payload, faults := a.site.Show(subject)
	if len(faults) > 0 {
		return payload, subject, problem.Faulty("view-stopped", "The widget's view stopped with an error.", faults)
	}
	return payload, subject, nil
}

// mailRows returns the rows of an email that shows a publication. A widget that depends on the time
// is an image, drawn whenever somebody opens the email, with its words for those who do not see it.
func (a *Delivery) mailRows(ctx context.Context, p Publication) ([]host.Row, error) {
	payload, subject, err := a.ShownNow(ctx, p)
	if err != nil {
		return nil, err
	}
	rows := flat.Rows(payload.Markup)
	if !subject.Release.Can(widget.Clock) {
		return rows, nil
	}
	var words []string
	for _, row := range rows {
		// Without the image, numbers would soon be out of date.
		if (row.Kind == "heading" || row.Kind == "words") && !strings.ContainsAny(row.Words, "0123456789") {
			words = append(words, row.Words)
		}
	}
	if _, ok := flat.Draw(rows, groundOf(payload)); !ok {
		return rows, nil
	}
	if len(words) == 0 {
		words = []string{p.Title}
	}
	return []host.Row{{Kind: "image", Words: strings.Join(words, ". "), Address: a.site.Base + "/p/" + p.Key + ".png", Width: flat.Width}}, nil
}

// AddMail adds the rows of an email to a subject.
func (a *Delivery) AddMail(ctx context.Context, pub Publication, subject *host.Subject) (err error) {
	if subject.Fits(host.Email) {
		subject.Mail, err = a.mailRows(ctx, pub)
	}
	return err
}

func groundOf(p render.Payload) flat.Ground {
	of := func(name string) string { return p.Look.Properties[name] }
	return flat.Ground{Surface: of("--surface"), Ink: of("--ink"), Accent: of("--accent")}
}

// Image draws the live version under key at the present moment. It returns nil if there is none, if
// the pocket is withheld, or if our font lacks its letters.
func (a *Delivery) Image(ctx context.Context, key string) ([]byte, error) {
	pub, withheld, err := a.Visited(ctx, key)
	if pub == nil || withheld || err != nil {
		return nil, err
	}
	payload, _, err := a.ShownNow(ctx, *pub)
	if err != nil {
		return nil, err
	}
	png, _ := flat.Draw(flat.Rows(payload.Markup), groundOf(payload))
	return png, nil
}
