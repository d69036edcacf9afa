//! A nest box counter, for the names and lines of another compiler.
#![no_std]
#![crate_type = "cdylib"]

use core::panic::PanicInfo;

#[panic_handler]
fn panic(_: &PanicInfo) -> ! {
    loop {}
}

pub mod boxes {
    pub trait Guest {
        fn weight(&self) -> u32;
    }

    pub struct Tit(pub u32);
    pub struct Nuthatch<const N: usize>(pub [u32; N]);

    impl Guest for Tit {
        fn weight(&self) -> u32 {
            self.0.wrapping_mul(3)
        }
    }

    impl<const N: usize> Guest for Nuthatch<N> {
        #[inline(never)]
        fn weight(&self) -> u32 {
            self.0.iter().map(|one| one.rotate_left(3)).fold(0, |sum, one| sum.wrapping_add(one))
        }
    }

    #[inline(never)]
    pub fn heaviest<G: Guest>(guests: &[G]) -> Option<usize> {
        let mut best = None;
        let mut most = 0;
        for (place, guest) in guests.iter().enumerate() {
            let weight = guest.weight();
            if weight > most {
                most = weight;
                best = Some(place);
            }
        }
        best
    }
}

#[no_mangle]
pub extern "C" fn nest_count(first: u32, second: u32) -> u32 {
    let tits = [boxes::Tit(first), boxes::Tit(second)];
    let nuthatches = [boxes::Nuthatch([first, second, 3])];
    let place = boxes::heaviest(&tits).unwrap_or(9) + boxes::heaviest(&nuthatches).unwrap_or(7);
    place as u32
}
