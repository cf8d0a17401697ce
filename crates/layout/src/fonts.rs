//! How wide text is: DejaVu's faces, shaped. They come with the program, so that a layout is the same on every machine.

use std::cell::RefCell;
use std::collections::HashMap;

use rustybuzz::{Face, UnicodeBuffer};

/// One of the faces that there are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
struct Cut {
    family: Family,
    bold: bool,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
enum Family {
    Sans,
    Serif,
    Mono,
}

/// A font at a size.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Font {
    cut: Cut,
    /// In pixels.
    pub size: f32,
    /// Pixels after each letter, and beside those after each space.
    pub spacing: (f32, f32),
}

/// How high a line of a font is, in whole pixels, as browsers round it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Heights {
    /// Above the baseline.
    pub ascent: f32,
    /// Below it.
    pub descent: f32,
}

impl Heights {
    /// All of it.
    pub fn total(self) -> f32 {
        self.ascent + self.descent
    }
}

fn face(cut: Cut) -> &'static Face<'static> {
    static FACES: std::sync::OnceLock<Vec<Face<'static>>> = std::sync::OnceLock::new();
    let faces = FACES.get_or_init(|| {
        let files: [&[u8]; 6] = [
            include_bytes!("../fonts/DejaVuSans.ttf"),
            include_bytes!("../fonts/DejaVuSans-Bold.ttf"),
            include_bytes!("../fonts/DejaVuSerif.ttf"),
            include_bytes!("../fonts/DejaVuSerif-Bold.ttf"),
            include_bytes!("../fonts/DejaVuSansMono.ttf"),
            include_bytes!("../fonts/DejaVuSansMono-Bold.ttf"),
        ];
        files.into_iter().map(|file| Face::from_slice(file, 0).expect("the packed fonts are fonts")).collect()
    });
    let family = match cut.family {
        Family::Sans => 0,
        Family::Serif => 2,
        Family::Mono => 4,
    };
    &faces[family + usize::from(cut.bold)]
}

impl Font {
    /// The font that computed values ask for; slanted text is as wide as upright. Families that nobody has fall back to sans, as on a machine that has these fonts alone.
    pub fn of(family: &str, size: f32, weight: f32) -> Self {
        let family = family.split(',').find_map(|name| match name.trim().trim_matches(['"', '\'']).to_ascii_lowercase().as_str() {
            "monospace" | "ui-monospace" | "dejavu sans mono" => Some(Family::Mono),
            "serif" | "ui-serif" | "dejavu serif" => Some(Family::Serif),
            "sans-serif" | "system-ui" | "ui-sans-serif" | "ui-rounded" | "cursive" | "fantasy" | "dejavu sans" => Some(Family::Sans),
            _ => None,
        });
        let cut = Cut { family: family.unwrap_or(Family::Sans), bold: weight >= 600.0 };
        Self { cut, size, spacing: (0.0, 0.0) }
    }

    fn scaled(self, units: i32) -> f32 {
        #[allow(clippy::cast_precision_loss, reason = "units of a font are few thousands")]
        let em = units as f32 / face(self.cut).units_per_em() as f32;
        em * self.size
    }

    /// Above and below the baseline.
    pub fn heights(self) -> Heights {
        let face = face(self.cut);
        Heights { ascent: self.scaled(i32::from(face.ascender())).round(), descent: self.scaled(-i32::from(face.descender())).round() }
    }

    /// Half the height of an `x`, by which `vertical-align: middle` centres.
    pub fn half_x(self) -> f32 {
        let face = face(self.cut);
        let x = face.glyph_index('x').and_then(|x| face.glyph_bounding_box(x)).map_or(0, |bounds| bounds.y_max);
        self.scaled(i32::from(x)).round() / 2.0
    }

    /// What a text field counts a letter as, and how much wider the widest one is.
    pub fn letter(self) -> (f32, f32) {
        // The mean of OS/2, which the parser does not tell, and the box of all glyphs, which is that of the upright faces.
        let (mean, widest) = match (self.cut.family, self.cut.bold) {
            (Family::Sans, false) => (1038, 5763),
            (Family::Sans, true) => (1175, 5785),
            (Family::Serif, false) => (1052, 5887),
            (Family::Serif, true) => (1157, 6022),
            (Family::Mono, _) => (1233, 1233),
        };
        let mean = if self.cut.family == Family::Mono { self.scaled(mean) } else { self.scaled(mean).round() };
        (mean, (self.scaled(widest).round() - mean).max(0.0))
    }

    /// How wide a piece of text is that stands on one line, in pixels.
    pub fn width(self, text: &str) -> f32 {
        let units: f32 = pieces(text).map(|piece| self.units(piece)).sum();
        let letters = text.chars().count();
        let spaces = text.chars().filter(|c| *c == ' ' || *c == '\u{a0}').count();
        #[allow(clippy::cast_precision_loss, reason = "no line is that long")]
        let between = letters as f32 * self.spacing.0 + spaces as f32 * self.spacing.1;
        units * self.size + between
    }

    /// The width of a piece, in ems. Pieces come again and again.
    fn units(self, piece: &str) -> f32 {
        const MOST: usize = 8192;
        thread_local! {
            static KNOWN: RefCell<HashMap<(Cut, Box<str>), f32>> = RefCell::default();
        }
        KNOWN.with_borrow_mut(|known| {
            let key = (self.cut, Box::from(piece));
            if let Some(units) = known.get(&key) {
                return *units;
            }
            if known.len() >= MOST {
                known.clear();
            }
            let face = face(self.cut);
            let mut buffer = UnicodeBuffer::new();
            buffer.push_str(piece);
            let shaped = rustybuzz::shape(face, &[], buffer);
            let advance: i32 = shaped.glyph_positions().iter().map(|p| p.x_advance).sum();
            #[allow(clippy::cast_precision_loss, reason = "units of a font are few thousands")]
            let units = advance as f32 / face.units_per_em() as f32;
            known.insert(key, units);
            units
        })
    }
}

/// Words, and each space by itself.
fn pieces(text: &str) -> impl Iterator<Item = &str> {
    text.split_inclusive(' ')
        .flat_map(|part| match part.strip_suffix(' ') {
            Some(word) => [word, &part[word.len()..]],
            None => [part, ""],
        })
        .filter(|piece| !piece.is_empty())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Widths that Chromium gives with the same fonts.
    #[test]
    fn text_is_as_wide_as_in_a_browser() {
        let text = "Fire the kiln, AVATAR To fill it";
        for (family, size, weight, width) in [
            ("Times", 16.0, 400.0, 225.390_63),
            ("Roboto, Helvetica", 16.0, 500.0, 225.390_63),
            ("sans-serif", 16.0, 600.0, 261.406_25),
            ("monospace", 13.0, 400.0, 250.453_13),
            ("Arial", 13.3333, 400.0, 187.75),
            ("serif", 20.0, 400.0, 302.75),
        ] {
            let found = Font::of(family, size, weight).width(text);
            assert!((found - width).abs() < 0.1, "{family} {size} {weight}: {found}, not {width}");
        }
        assert_eq!(Font::of("serif, x", 16.0, 400.0).heights().total(), 19.0);
        assert_eq!(Font::of("Arial", 13.3333, 400.0).heights(), Heights { ascent: 12.0, descent: 3.0 });
        assert_eq!(Font::of("Arial", 13.3333, 400.0).letter(), (7.0, 31.0));
    }
}
