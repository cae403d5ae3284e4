// Package look is the document: what a person has set for a picture, as data. It holds the declarations of stations,
// kinds of step and their settings, looks with their steps and mattes, their schema, versions and migrations, and how a
// look is read, strictly when somebody loads it and tolerantly when it was stored here.
//
// It knows no kind by name: each declares itself (package steps), and from that one declaration come the desk's controls,
// the help, validation, the command line and the reference. What a kind does is for who compiles it (Kind.Work).
package look
