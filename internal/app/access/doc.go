// Package access has who may do what: roles, scopes, secrets, and limits on failed attempts. Every
// use case gets the Scope of whoever asks for it.
package access
