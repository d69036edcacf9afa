//! Makes the compiler write names with values of every kind, and prints each as the compiler's own stack traces tell it.
#![feature(adt_const_params, unsized_const_params, fn_traits)]
#![allow(incomplete_features, dead_code)]
use std::backtrace::Backtrace;
use std::marker::ConstParamTy;

#[derive(PartialEq, Eq, ConstParamTy)] pub struct Range { low: i8, high: High }
#[derive(PartialEq, Eq, ConstParamTy)] pub enum High { None, Some(u32) }
#[derive(PartialEq, Eq, ConstParamTy)] pub enum Maybe { No, Yes(&'static str), Both((u8, [char; 1])) }
#[derive(PartialEq, Eq, ConstParamTy)] pub struct Pair(bool, char);
#[derive(PartialEq, Eq, ConstParamTy)] pub struct Unit;
#[derive(PartialEq, Eq, ConstParamTy)] pub enum State { Empty, Brooding(u8), Gone { since: i64, to: &'static str } }

#[derive(PartialEq, Eq, ConstParamTy)] pub struct Named { name: &'static str }
pub mod nest { #[derive(PartialEq, Eq, std::marker::ConstParamTy)] pub enum Kind { Open, Boxed([u8; 2]) } }

/// Where in the program the function lies that calls, and its name as a stack trace tells it.
#[inline(never)]
fn told() -> String {
    let trace = Backtrace::force_capture().to_string();
    let names: Vec<&str> = trace.lines().filter_map(|line| line.split_once(": ")).filter(|(at, _)| at.trim().parse::<u8>().is_ok()).map(|(_, name)| name).collect();
    let own = names.iter().position(|name| *name == "many_constants::told").unwrap();
    let mut addresses: Vec<usize> = Vec::new();
    unsafe { _Unwind_Backtrace(collect, &mut addresses) };
    format!("{:x}\t{}", addresses[1] - &raw const __executable_start as usize, names[own + 1])
}
extern "C" fn collect(context: *mut (), addresses: &mut Vec<usize>) -> i32 { addresses.push(unsafe { _Unwind_GetIP(context) }); 0 }
unsafe extern "C" {
    static __executable_start: u8;
    fn _Unwind_Backtrace(each: extern "C" fn(*mut (), &mut Vec<usize>) -> i32, argument: &mut Vec<usize>) -> i32;
    fn _Unwind_GetIP(context: *mut ()) -> usize;
}
macro_rules! kinds { ($($name:ident: $type:ty),* $(,)?) => { $(#[inline(never)] pub fn $name<const V: $type>() { println!("{}", told()); })* } }
kinds! { boolean: bool, letter: char, byte: u8, short: i16, long: i64, huge: u128, tiny: i128, size: usize, text: &'static str,
  range: Range, pair: Pair, unit: Unit, state: State, kind: nest::Kind, nothing: (), tuple: (u8, bool), single: (i32,), array: [u8; 3], arrays: [[bool; 1]; 2],
  slice: &'static [u16], reference: &'static u8, references: &'static [&'static str], option: Maybe, named: Named }
#[inline(never)] pub fn sized<T, const N: usize>(_: [T; N]) { println!("{}", told()); }
#[inline(never)] pub fn typed<T: ?Sized>() { println!("{}", told()); }
pub trait Sings { type Note; fn sing(&self) { println!("{}", told()); } }
pub struct Wren<const R: bool, T = u8>(T);
impl<const R: bool, T> Wren<R, T> { #[inline(never)] pub fn call(&self) { println!("{}", told()); (|| println!("{}", told()))(); } }
impl<const R: bool, T> Sings for Wren<R, T> { type Note = T; }
impl Sings for dyn Fn(&u8) -> i8 { type Note = (); }
impl<T> Sings for &[T] { type Note = T; fn sing(&self) { println!("{}", told()); } }
impl Sings for (u8, i16) { type Note = (); }
impl Sings for *const u8 { type Note = (); }
impl Sings for fn(u8) -> bool { type Note = (); }
impl Drop for Unit { fn drop(&mut self) { println!("{}", told()); } }

fn main() {
    boolean::<true>(); boolean::<false>(); letter::<'w'>(); letter::<'\n'>(); letter::<'\''>(); letter::<'"'>(); letter::<'\\'>(); letter::<'é'>(); letter::<'🐦'>(); letter::<'\0'>(); letter::<'\u{7f}'>(); letter::<'\u{301}'>();
    byte::<255>(); short::<-300>(); long::<{ i64::MIN }>(); huge::<{ u128::MAX }>(); huge::<{ 1 << 64 }>(); huge::<{ u64::MAX as u128 }>(); tiny::<-1>(); tiny::<{ i128::MIN }>(); size::<0>();
    text::<"wren">(); text::<"">(); text::<"a \"nest\" of\n\ttwo\\ 'eggs' \u{1f426} é\0">();
    range::<{ Range { low: -3, high: High::Some(7) } }>(); range::<{ Range { low: 3, high: High::None } }>(); pair::<{ Pair(true, 'p') }>(); state::<{ State::Empty }>(); state::<{ State::Brooding(4) }>();
    state::<{ State::Gone { since: -9, to: "south" } }>(); kind::<{ nest::Kind::Open }>(); kind::<{ nest::Kind::Boxed([1, 2]) }>(); nothing::<{ () }>(); tuple::<{ (3, true) }>(); single::<{ (-4,) }>();
    array::<{ [1, 2, 3] }>(); arrays::<{ [[true], [false]] }>(); slice::<{ &[7, 8] }>(); slice::<{ &[] }>(); reference::<{ &5 }>(); references::<{ &["a", "b"] }>(); option::<{ Maybe::Yes("x") }>(); option::<{ Maybe::No }>();
    option::<{ Maybe::Both((1, ['c'])) }>(); named::<{ Named { name: "owl" } }>();
    sized([1u8, 2]); sized([[1i8; 3]; 2]); sized([(); 0]);
    typed::<str>(); typed::<[u8]>(); typed::<dyn std::fmt::Debug>(); typed::<dyn std::fmt::Debug + Send + Sync>(); typed::<dyn Iterator<Item = u8>>(); typed::<dyn Iterator<Item = (u8, dyn_of::Of)> + Send>();
    typed::<dyn for<'a> Fn(&'a u8, &'a mut i8) -> &'a u8>(); typed::<dyn for<'a, 'b> Fn(&'a u8, &'b u8)>(); typed::<fn()>(); typed::<unsafe extern "C" fn(u8, ...) -> i8>(); typed::<extern "C" fn(u8) -> i8>(); typed::<extern "system" fn()>();
    typed::<extern "C-unwind" fn()>(); typed::<unsafe fn(f32) -> f64>(); typed::<for<'a> fn(&'a str) -> &'a str>(); typed::<for<'a> fn(for<'b> fn(&'a u8, &'b u8), &'a u8)>(); typed::<fn() -> !>(); typed::<()>(); typed::<(u8,)>(); typed::<(u8, char, bool)>();
    typed::<*const u8>(); typed::<*mut [u8; 4]>(); typed::<&'static str>(); typed::<&mut [i128]>(); typed::<(u16, u32, u64, u128, usize, i16, i32, i64, isize)>(); typed::<Option<Box<dyn Sings<Note = u8>>>>(); typed::<dyn Sings<Note = fn(&u8)> + Unpin>();
    typed::<<u8 as Has>::Of>(); typed::<Wren<true>>(); typed::<Wren<false, Wren<true, ()>>>(); typed::<[Wren<true, [u8; 2]>; 3]>();
    Wren::<true>(1).call(); Wren::<false, &str>("x").call(); Wren::<true, [u8; 2]>([1, 2]).sing(); (&[1u8][..]).sing(); (1u8, 2i16).sing(); (std::ptr::null::<u8>()).sing(); ((|x| x > 1) as fn(u8) -> bool).sing();
    let boxed: Box<dyn Fn(&u8) -> i8> = Box::new(|x| { println!("{}", told()); *x as i8 }); boxed(&3); boxed.sing(); drop(Unit);
    let held = [1u8].map(|x| { let inner = |y: u8| { println!("{}", told()); y + x }; inner(2) }); println!("{}", { fn within<T>(_: T) -> String { told() } within(held) });
    size::<{ const fn of() -> usize { 3 } of() }>();
    const { assert!(true) }; static KEPT: fn() -> String = || told(); println!("{}", KEPT());
    größe::länge::<u8>(); größe::länge::<größe::Weiß>(); größe::北();
}
pub trait Has { type Of; } impl Has for u8 { type Of = Option<u8>; }
pub mod dyn_of { pub struct Of; }
pub mod größe { pub struct Weiß; #[inline(never)] pub fn länge<T>() { println!("{}", super::told()); } #[inline(never)] pub fn 北() { println!("{}", super::told()); } }
