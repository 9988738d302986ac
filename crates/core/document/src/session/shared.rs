//! What a document is made of: things that copies of it share until one of them is changed.

use serde::{Deserialize, Deserializer, Serialize, Serializer};
use std::ops::{Deref, DerefMut};
use std::sync::Arc;
use std::sync::atomic::{AtomicU32, Ordering};

/// A voice, a strip, a part … of a document. Copying one costs nothing; whoever writes to it gets a copy of its own.
///
/// Each remembers that its own values were found to be what a document allows, so that this is looked at once for a
/// value, not once for a document.
pub struct Shared<T>(Arc<Held<T>>);

struct Held<T> {
    value: T,
    /// 0 where its values were not looked at yet, else one more than what they reach to.
    sound: AtomicU32,
}

impl<T: Clone> Clone for Held<T> {
    fn clone(&self) -> Self {
        Held { value: self.value.clone(), sound: AtomicU32::new(0) }
    }
}

impl<T> Shared<T> {
    /// One of its own.
    pub fn new(value: T) -> Self {
        Shared(Arc::new(Held { value, sound: AtomicU32::new(0) }))
    }

    /// What some of them hold.
    pub fn values(all: &[Shared<T>]) -> impl DoubleEndedIterator<Item = &T> {
        all.iter().map(|piece| &**piece)
    }

    /// Whether both are one and the same; equal ones may still stand apart.
    pub fn is(&self, other: &Shared<T>) -> bool {
        Arc::ptr_eq(&self.0, &other.0)
    }

    /// How far its values reach, by a check that they passed before or pass now: a number under `u32::MAX` that follows
    /// from the value alone.
    ///
    /// # Errors
    /// The check's.
    pub(super) fn sound<E>(&self, check: impl FnOnce(&T) -> Result<u32, E>) -> Result<u32, E> {
        match self.0.sound.load(Ordering::Relaxed) {
            0 => {
                let reach = check(&self.0.value)?;
                self.0.sound.store(reach.saturating_add(1), Ordering::Relaxed);
                Ok(reach)
            }
            known => Ok(known - 1),
        }
    }
}

impl<T: Clone> Shared<T> {
    /// The value, copied where others hold it as well.
    pub fn into_inner(self) -> T {
        match Arc::try_unwrap(self.0) {
            Ok(held) => held.value,
            Err(shared) => shared.value.clone(),
        }
    }
}

impl<T> From<T> for Shared<T> {
    fn from(value: T) -> Self {
        Shared::new(value)
    }
}

impl<T> Clone for Shared<T> {
    fn clone(&self) -> Self {
        Shared(Arc::clone(&self.0))
    }
}

impl<T> Deref for Shared<T> {
    type Target = T;

    fn deref(&self) -> &T {
        &self.0.value
    }
}

impl<T: Clone> DerefMut for Shared<T> {
    fn deref_mut(&mut self) -> &mut T {
        let held = Arc::make_mut(&mut self.0);
        *held.sound.get_mut() = 0;
        &mut held.value
    }
}

impl<T: PartialEq> PartialEq for Shared<T> {
    fn eq(&self, other: &Self) -> bool {
        self.is(other) || **self == **other
    }
}

impl<T: std::fmt::Debug> std::fmt::Debug for Shared<T> {
    fn fmt(&self, f: &mut std::fmt::Formatter) -> std::fmt::Result {
        (**self).fmt(f)
    }
}

impl<T: Serialize> Serialize for Shared<T> {
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        (**self).serialize(to)
    }
}

impl<'de, T: Deserialize<'de>> Deserialize<'de> for Shared<T> {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        T::deserialize(from).map(Shared::new)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn copies_share_until_one_is_written_to() {
        let first = Shared::new(vec![1, 2]);
        let mut second = first.clone();
        assert!(second.is(&first));
        second.push(3);
        assert!(!second.is(&first));
        assert_eq!((&*first, &*second), (&vec![1, 2], &vec![1, 2, 3]));
    }

    #[test]
    fn equal_ones_are_equal_also_apart() {
        assert_eq!(Shared::new(5), Shared::new(5));
        assert_ne!(Shared::new(5), Shared::new(6));
        assert!(!Shared::new(5).is(&Shared::new(5)));
        // What is not equal to itself is told apart no more than in a document that was read anew.
        let nan = Shared::new(f64::NAN);
        assert_eq!(nan, nan.clone());
    }

    #[test]
    fn a_value_is_checked_once_and_again_after_it_was_written_to() {
        let mut looked = 0;
        let mut check = |value: &u32| {
            looked += 1;
            if *value < 10 { Ok(*value) } else { Err("too much") }
        };
        let mut piece = Shared::new(7);
        let copy = piece.clone();
        assert_eq!([piece.sound(&mut check), piece.sound(&mut check), copy.sound(&mut check)], [Ok(7); 3]);
        *piece = 12;
        assert_eq!([piece.sound(&mut check), piece.sound(&mut check)], [Err("too much"); 2]);
        assert_eq!(copy.sound(&mut check), Ok(7));
        assert_eq!(looked, 3);
    }

    #[test]
    fn one_that_nobody_else_holds_is_given_back_without_a_copy() {
        let piece = Shared::new(vec![0_u8; 8]);
        let place = piece.as_ptr();
        let alone = piece.into_inner();
        assert_eq!(alone.as_ptr(), place);
        let piece = Shared::new(alone);
        let held = piece.clone();
        let copied = piece.into_inner();
        assert_ne!(copied.as_ptr(), held.as_ptr());
        assert_eq!(copied, *held);
    }
}
