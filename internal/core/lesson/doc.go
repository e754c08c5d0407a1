// Package lesson has what happens around the drawing: the stages of a project and their
// checkpoints (a [Road]), lessons in a [Calendar], pace and who will finish, who needs the teacher
// first, materials, objectives, and the cautions that stand beside what can hurt somebody. They
// defer to the school's own rules. It knows no students and no database: whoever asks counts first.
package lesson
