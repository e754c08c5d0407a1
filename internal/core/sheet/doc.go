// Package sheet has the kinds of page that a class needs, made of plans and of
// what was measured: references, marks, strips, cards, lists and maps.
package sheet
