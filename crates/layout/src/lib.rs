//! Where the boxes of a document stand (CSS 2 §8 to §10, Flexbox, Grid, Display, Positioned Layout, Transforms).
//!
//! | module | subject |
//! |---|---|
//! | [`Geometry`] | what a script is told: rectangles, sizes, used values |
//! | `boxes` | from elements to boxes: blocks, lines, tables, controls |
//! | `solve` | sizes and places: the solver's view of the boxes |
//! | `lines` | text and what stands among it, broken into lines |
//! | `controls` | how large controls, pictures and the like are by themselves |
//! | `style` | computed values, as the solver takes them |
//! | `transform` | what is moved, turned and scaled |
//! | `fonts` | how wide text is |
//!
//! Left out: what is generated before and after elements, vertical writing, columns, text beside floats, what follows from scrolling for
//! sticky boxes, and pictures, which never load here.

mod boxes;
mod controls;
mod fonts;
mod geometry;
mod lines;
mod solve;
mod style;
mod transform;

pub use geometry::{Geometry, Measures, Scrolled};
pub use transform::Area;
