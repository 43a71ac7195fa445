package main

import (
	"flag"
	"sort"
	"strings"

	"glasspocket/internal/fault"
)

// removal is one kind of thing that a verb deletes, cancels or revokes.
type removal struct {
	arguments []string // in capitals, as in the usage line
	do        func(s *session, args []string) error
	said      string // after it is done
}

// numbered calls do with the number in the last argument. list is the command that shows the numbers.
func numbered(kind string, list func(args []string) string, do func(s *session, args []string, id int64) error) func(*session, []string) error {
	return func(s *session, args []string) error {
		id, err := number(args[len(args)-1], kind, list(args))
		if err != nil {
			return err
		}
		return do(s, args, int64(id))
	}
}

// first is a list command that needs the first argument; alone is one that needs no argument.
func first(list string) func([]string) string {
	return func(a []string) string { return list + " " + a[0] }
}
func alone(list string) func([]string) string { return func([]string) string { return list } }

const signedOut = "They can no longer sign in. Their sessions and tokens no longer work."

var deletions = map[string]removal{
	"asset":  {[]string{"CUSTOMER", "DIGEST"}, func(s *session, a []string) error { return s.api.DeleteAsset(s.ctx, a[0], a[1]) }, "Deleted the asset."},
	"case":   {[]string{"KEY", "NAME"}, func(s *session, a []string) error { return s.api.DeletePreviewCase(s.ctx, a[0], a[1]) }, "Deleted the preview case."},
	"host":   {[]string{"NAME"}, func(s *session, a []string) error { return s.api.DeleteHost(s.ctx, a[0]) }, "Deleted your profile. If a profile with this name ships with the service, that one applies again."},
	"pocket": {[]string{"KEY"}, func(s *session, a []string) error { return s.api.DeletePocket(s.ctx, a[0]) }, "Deleted the pocket and its history."},
	"source": {[]string{"SOURCE"}, func(s *session, a []string) error { return s.api.DeleteSource(s.ctx, a[0]) }, "Deleted the source and its items."},
	"user":   {[]string{"NAME"}, func(s *session, a []string) error { return s.api.DeleteUser(s.ctx, a[0]) }, "Deleted the user. " + signedOut},
}

var cancellations = map[string]removal{
	"job": {[]string{"ID"}, func(s *session, a []string) error { return s.api.CancelJob(s.ctx, a[0]) }, "Cancelled the job. Its results so far are kept."},
	"task": {[]string{"ID"}, numbered("task", alone("list tasks"), func(s *session, a []string, id int64) error {
		return s.api.CancelTask(s.ctx, id)
	}), "Cancelled the task."},
	"schedule": {[]string{"KEY", "ID"}, numbered("schedule", first("list schedules"), func(s *session, a []string, id int64) error {
		return s.api.CancelSchedule(s.ctx, a[0], id)
	}), "Cancelled the schedule."},
}

var revocations = map[string]removal{
	"access": {[]string{"CUSTOMER", "NAME"}, func(s *session, a []string) error { return s.api.RevokeAccess(s.ctx, a[0], a[1]) }, "Revoked the access. " + signedOut},
	"handover": {[]string{"KEY", "ID"}, numbered("handover", first("list handovers"), func(s *session, a []string, id int64) error {
		return s.api.RevokeHandover(s.ctx, a[0], id)
	}), "Revoked the handover. Its link no longer works."},
	"invitation": {[]string{"CUSTOMER", "ID"}, numbered("invitation", first("list people"), func(s *session, a []string, id int64) error {
		return s.api.RevokeInvitation(s.ctx, a[0], id)
	}), "Revoked the invitation. Its link no longer works."},
	"session": {[]string{"ID"}, numbered("session", alone("list sessions"), func(s *session, a []string, id int64) error {
		return s.api.RevokeSession(s.ctx, id)
	}), "Revoked the session. Its browser is signed out."},
	"token": {[]string{"ID"}, numbered("token", alone("list tokens"), func(s *session, a []string, id int64) error {
		return s.api.RevokeToken(s.ctx, id)
	}), "Revoked the token and every token made with it."},
}

var deleteVerb = removing("delete", "Delete an asset, a preview case, a host profile, a pocket, a source or a user", deletions,
	"delete case demo-popup 'Second visit'", "delete user mirre@kelp.example")

var cancelVerb = removing("cancel", "Cancel a schedule, a job or a background task", cancellations,
	"cancel schedule demo-countdown 1", "cancel schedule demo-countdown 2 -json")

var revokeVerb = removing("revoke", "Revoke a token, a session, an invitation, a handover or a person's access", revocations,
	"revoke token 3", "revoke access kelp-and-kiln mirre@kelp.example")

// removing makes the verb that does one of a table's removals.
func removing(name, about string, kinds map[string]removal, examples ...string) verb {
	names := make([]string, 0, len(kinds))
	for kind := range kinds {
		names = append(names, kind)
	}
	sort.Strings(names)
	usages := make([]string, len(names))
	for i, kind := range names {
		usages[i] = kind + " " + strings.Join(kinds[kind].arguments, " ")
	}
	return verb{arguments: strings.Join(usages, " | "), about: about, examples: examples, flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) == 0 {
				return usagef("say what to %s: %s", name, strings.Join(names, ", "))
			}
			kind, args := s.args[0], s.args[1:]
			what, known := kinds[kind]
			if !known {
				return usagef("%q cannot follow %q. %s", kind, name, fault.DidYouMean(kind, names))
			}
			if len(args) != len(what.arguments) {
				return usagef("%s %s needs %s", name, kind, strings.Join(what.arguments, " and "))
			}
			if err := what.do(s, args); err != nil {
				return err
			}
			return s.done(map[string]any{"kind": kind, "name": args[len(args)-1]}, "%s\n", what.said)
		}
	}}
}
