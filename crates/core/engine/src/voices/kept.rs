//! Pitched sounds that come again: what was read between the frames of a sample once is kept, as far as there is room,
//! and is the same bits as reading it again, whichever voice or engine asks. It fills as sounds play, so no block has to
//! fill it.

/// Values of a page.
const PAGE: usize = 1024;
/// Pages at most: 32 MiB, made as they are needed.
pub const PAGES: usize = 4096;
/// Sounds that are known at most.
const SOUNDS: usize = 512;
/// No page.
const NONE: u32 = u32::MAX;

/// What a kept sound was read from: all that its values follow from.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Source {
    /// The audio's number.
    pub audio: usize,
    /// How it is read ([`crate::voices::layer::LayerShape::way`]).
    pub way: [f64; 5],
    /// Cents away from the sample's own pitch.
    pub cents: f64,
}

#[derive(Debug, Clone, Copy)]
struct Entry {
    source: Source,
    /// Counts up when the entry becomes another sound's.
    age: u32,
    /// When it was begun last.
    used: u64,
    /// Values that are kept.
    count: usize,
    first: u32,
    last: u32,
}

/// Where a sound reads, and goes on keeping.
#[derive(Debug, Clone, Copy)]
pub struct Place {
    entry: usize,
    age: u32,
    page: u32,
    /// The value of the page's first place.
    page_at: usize,
}

/// All kept sounds.
pub struct Kept {
    values: Vec<f64>,
    /// The page behind each.
    next: Vec<u32>,
    /// The first free page.
    free: u32,
    entries: Vec<Entry>,
    clock: u64,
}

impl Kept {
    /// Room for no sound yet. Allocates.
    pub fn new() -> Self {
        Kept { values: Vec::new(), next: Vec::new(), free: NONE, entries: Vec::with_capacity(SOUNDS), clock: 0 }
    }

    /// Sets aside what pages may come to need. Allocates.
    pub fn reserve(&mut self) {
        self.values.reserve_exact(PAGES * PAGE - self.values.len());
        self.next.reserve_exact(PAGES - self.next.len());
    }

    /// Whether more pages could be of use.
    pub fn is_full(&self) -> bool {
        self.free == NONE && self.next.len() < self.next.capacity().min(PAGES)
    }

    /// Makes more pages of what was set aside; gives whether that was all.
    pub fn grow(&mut self, pages: usize) -> bool {
        let pages = pages.min(self.next.capacity().min(PAGES) - self.next.len());
        for _ in 0..pages {
            self.values.resize(self.values.len() + PAGE, 0.0);
            self.next.push(self.free);
            self.free = self.next.len() as u32 - 1;
        }
        self.next.len() == PAGES
    }

    /// The place of a sound from its start; none where there is no room at all.
    pub fn begin(&mut self, source: Source) -> Option<Place> {
        if self.next.capacity() == 0 {
            return None;
        }
        self.clock += 1;
        let found = self.entries.iter().position(|e| e.source == source);
        let entry = match found {
            Some(at) => at,
            None if self.entries.len() < SOUNDS => {
                self.entries.push(Entry { source, age: 0, used: 0, count: 0, first: NONE, last: NONE });
                self.entries.len() - 1
            }
            None => {
                let oldest = self.oldest(usize::MAX)?;
                self.clear(oldest);
                self.entries[oldest].source = source;
                oldest
            }
        };
        self.entries[entry].used = self.clock;
        let Entry { age, first, .. } = self.entries[entry];
        Some(Place { entry, age, page: first, page_at: 0 })
    }

    fn oldest(&self, but: usize) -> Option<usize> {
        let others = self.entries.iter().enumerate().filter(|(at, e)| *at != but && e.first != NONE);
        let found = others.min_by_key(|(_, e)| e.used).map(|(at, _)| at);
        found.or_else(|| (but == usize::MAX && !self.entries.is_empty()).then_some(0))
    }

    fn clear(&mut self, at: usize) {
        let entry = &mut self.entries[at];
        if entry.first != NONE {
            self.next[entry.last as usize] = self.free;
            self.free = entry.first;
        }
        entry.age = entry.age.wrapping_add(1);
        (entry.count, entry.first, entry.last) = (0, NONE, NONE);
    }

    /// Lets go of every sound of a piece of audio, which is another one now.
    pub fn forget(&mut self, audio: usize) {
        for at in 0..self.entries.len() {
            if self.entries[at].source.audio == audio {
                self.clear(at);
                // Nothing asks for it again.
                self.entries[at].source.cents = f64::NAN;
            }
        }
    }

    /// The values from `at` on that are kept in one piece, at most `most`; none where they are not kept (any more).
    pub fn read(&self, place: &mut Place, at: usize, most: usize) -> Option<&[f64]> {
        let entry = self.entries.get(place.entry).filter(|e| e.age == place.age && at < e.count)?;
        if place.page == NONE || at < place.page_at {
            (place.page, place.page_at) = (entry.first, 0);
        }
        while at >= place.page_at + PAGE {
            place.page = self.next[place.page as usize];
            place.page_at += PAGE;
        }
        let within = at - place.page_at;
        let count = most.min(PAGE - within).min(entry.count - at);
        let from = place.page as usize * PAGE + within;
        self.values.get(from..from + count)
    }

    /// Keeps the values behind those that are kept, as far as there is room.
    pub fn write(&mut self, place: &Place, at: usize, values: &[f64]) {
        if self.entries.get(place.entry).is_none_or(|e| e.age != place.age || at != e.count) {
            return;
        }
        for (n, value) in values.iter().enumerate() {
            let count = at + n;
            if count.is_multiple_of(PAGE) && !self.add_page(place.entry) {
                return;
            }
            let entry = &mut self.entries[place.entry];
            self.values[entry.last as usize * PAGE + count % PAGE] = *value;
            entry.count = count + 1;
        }
    }

    fn add_page(&mut self, to: usize) -> bool {
        if self.free == NONE {
            match self.oldest(to) {
                Some(oldest) => self.clear(oldest),
                None => return false,
            }
        }
        let page = self.free;
        if page == NONE {
            return false;
        }
        self.free = self.next[page as usize];
        self.next[page as usize] = NONE;
        let entry = &mut self.entries[to];
        if entry.first == NONE {
            entry.first = page;
        } else {
            self.next[entry.last as usize] = page;
        }
        entry.last = page;
        true
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lane_units::Dice;
    use std::collections::HashMap;

    fn source(n: usize) -> Source {
        Source { audio: n, way: [0.0; 5], cents: 50.0 }
    }

    #[test]
    fn whatever_is_read_is_what_was_written_under_that_source() {
        let mut kept = Kept::new();
        kept.reserve();
        kept.grow(6);
        let mut dice = Dice::new(&[5]);
        let value = |audio: usize, at: usize| audio as f64 * 1e6 + at as f64;
        let mut places: HashMap<usize, (Place, usize)> = HashMap::new();
        let mut read = 0;
        for _ in 0..20_000 {
            let audio = (dice.roll() % 9) as usize;
            if dice.roll().is_multiple_of(40) {
                kept.forget(audio);
            }
            if dice.roll().is_multiple_of(5) || !places.contains_key(&audio) {
                places.insert(audio, (kept.begin(source(audio)).unwrap(), 0));
            }
            let (place, at) = places.get_mut(&audio).unwrap();
            match kept.read(place, *at, 300) {
                Some(values) => {
                    assert!(values.iter().enumerate().all(|(n, x)| *x == value(audio, *at + n)));
                    *at += values.len();
                    read += values.len();
                }
                None => {
                    let values: Vec<f64> = (0..100).map(|n| value(audio, *at + n)).collect();
                    kept.write(place, *at, &values);
                    *at += 100;
                }
            }
        }
        assert!(read > 10_000, "{read} values were read again");
    }

    #[test]
    fn pages_are_neither_lost_nor_given_twice() {
        let mut kept = Kept::new();
        kept.reserve();
        assert!(!kept.grow(4));
        for round in 0..50 {
            let place = kept.begin(source(round)).unwrap();
            kept.write(&place, 0, &vec![round as f64; 3 * PAGE]);
            let mut place = kept.begin(source(round)).unwrap();
            let whole: usize =
                std::iter::successors(Some(0), |at| kept.read(&mut place, *at, PAGE).map(|values| at + values.len()))
                    .last()
                    .unwrap();
            assert_eq!(whole, 3 * PAGE, "round {round}");
        }
        // More than there is room for: what fits is kept.
        let place = kept.begin(source(99)).unwrap();
        kept.write(&place, 0, &vec![1.0; 9 * PAGE]);
        let mut again = kept.begin(source(99)).unwrap();
        assert!(kept.read(&mut again, 4 * PAGE - 1, 1).is_some() && kept.read(&mut again, 4 * PAGE, 1).is_none());
    }
}
