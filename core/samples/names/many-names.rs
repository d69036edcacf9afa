//! Makes the compiler write names of many kinds; what the program does is of no matter.
use std::collections::{HashMap,BTreeMap,HashSet,VecDeque};
use std::fmt::{Debug,Display};
pub trait Song<'a, const N: usize> { type Out: Debug; fn sing(&self, x: &'a [u8; N]) -> Self::Out; }
pub struct Wren<T, const B: bool>(pub T);
impl<'a, T: Debug + Clone, const B: bool, const N: usize> Song<'a, N> for Wren<T, B> { type Out = Vec<T>; fn sing(&self, _x: &'a [u8; N]) -> Vec<T> { (0..N).map(|_| self.0.clone()).collect() } }
pub mod größe { pub fn länge<T: super::Debug>(t: T) -> String { let f = |x: &T| format!("{:?}", x); f(&t) } }
pub fn generic<F: Fn(i32) -> Box<dyn Fn(&str) -> Option<u8> + Send>>(f: F) -> usize { f(3)("x").map(|z| z as usize).unwrap_or(0) }
pub fn dynamic(x: &dyn Display, y: Box<dyn for<'b> Fn(&'b str) -> &'b str>) -> String { format!("{}{}", x, y("q")) }
pub fn ch<const C: char, const I: i16>() -> String { format!("{C}{I}") }
fn main() {
  let mut m: HashMap<String, Vec<(u8, i64)>> = HashMap::new(); m.entry("a".into()).or_default().push((1,2));
  let mut b: BTreeMap<i32, HashSet<&'static str>> = BTreeMap::new(); b.entry(3).or_default().insert("x");
  let mut v: VecDeque<Option<Result<u8, std::io::Error>>> = VecDeque::new(); v.push_back(Some(Ok(3)));
  let mut z: Vec<(String, f64)> = vec![("q".into(), 1.0)]; z.sort_by(|a, b| a.1.partial_cmp(&b.1).unwrap());
  println!("{:?} {:?} {:?} {:?}", m, b, v, z);
  println!("{:?}", Wren::<u8, true>(3).sing(&[1,2,3])); println!("{:?}", Wren::<[u16; 4], false>([1,2,3,4]).sing(&[1]));
  println!("{} {}", größe::länge(3u8), größe::länge(("a", 'c')));
  println!("{}", generic(|i| Box::new(move |s| Some(s.len() as u8 + i as u8))));
  println!("{}", dynamic(&3, Box::new(|s| s)));
  println!("{} {}", ch::<'ß', -7>(), ch::<'\n', 12>());
  let h = std::thread::spawn(move || { let fp: unsafe extern "C" fn(i32) -> i32 = ext; let t: (fn(u8) -> u8,) = (|x| x + 1,); unsafe { fp(3) + t.0(4) as i32 } }); println!("{}", h.join().unwrap());
}
unsafe extern "C" fn ext(x: i32) -> i32 { x }
