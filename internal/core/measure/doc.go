// Package measure knows lengths, sizes, papers and proportion.
//
// Lengths are kept in millimetres and read and written the way people in the
// room say them: "9 1/2 in", "24 cm", `9.5"`. The package does not know about
// pictures or grids.
package measure
