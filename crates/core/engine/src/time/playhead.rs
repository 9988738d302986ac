//! Where the song stands, and which of its frames come next.

/// Where the song is played, in frames from bar 1.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct LoopRange {
    /// The first frame.
    pub from: u64,
    /// First frame that is not played any more.
    pub to: u64,
}

/// Where the song stands, and whether it runs.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Playhead {
    /// Whether it runs.
    pub playing: bool,
    /// Frames from bar 1; at a loop's end its start is next.
    pub position: u64,
    /// What is repeated.
    pub looping: Option<LoopRange>,
}

impl Playhead {
    /// Lets frames pass.
    pub fn pass(&mut self, frames: usize) {
        if self.playing
            && let Some((at, count)) = self.stretches(frames).last()
        {
            self.position = at + count as u64;
        }
    }

    /// What of the song the next frames are: where each stretch begins, and how long it is. Fit for the audio thread.
    pub fn stretches(self, frames: usize) -> impl Iterator<Item = (u64, usize)> {
        let (mut at, mut left) = (self.position, frames);
        std::iter::from_fn(move || {
            if left == 0 {
                return None;
            }
            let mut count = left;
            if let Some(range) = self.looping {
                if at == range.to {
                    at = range.from;
                }
                if at < range.to {
                    count = count.min((range.to - at) as usize);
                }
            }
            let stretch = (at, count);
            at += count as u64;
            left -= count;
            Some(stretch)
        })
    }
}
