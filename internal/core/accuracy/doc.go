// Package accuracy says of a photographed drawing how far each box, each landmark and the whole
// are off: which way, in boxes of the grid and in millimetres, how surely, and what to say first.
//
// [Measure] goes the whole way: package photo finds the sheet; [See] straightens it and finds the
// lines of drawing and picture; [Seen.Match] fits the picture's lines to the drawn ones, box by box;
// [Matched.Boxes] gives every box its state and the whole its one move, turn and size; what follows
// for the maker stands in [Report.Next]. A box whose lines would lie as well elsewhere is not sure,
// and nothing is said of it.
//
// Places are millimetres on the sheet from the grid's top left corner, x right and y down, or
// pixels of the straightened photo; shifts are drawn minus wanted.
package accuracy
