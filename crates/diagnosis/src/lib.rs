//! Diagnosis: lessons, their answer keys, attempts at them, what each attempt's evidence leaves possible, and
//! what it is worth in marks.

pub mod attempt;
pub mod key;
pub mod lesson;
pub mod marking;
pub mod suspects;
