// Makes the compiler write names that hold expressions of every kind; what the program does is of no matter.
#include <concepts>
#include <cstddef>
#include <new>
#include <typeinfo>
#include <utility>

template <class T> T &&made() noexcept;
template <auto...> struct Holds {};
template <bool> struct When {};
struct Nest {
  int eggs;
  int clutch[4];
  struct Box { float width; } box;
  int count() const;
  template <class T> T as() const;
  Nest operator+(Nest) const;
  Nest *operator->();
  int operator()(int, int) const;
  int operator[](int) const;
  operator bool() const;
  int Nest::*member();
  static int all;
  static int tally(int);
  template <class T> static T sum(T);
  enum class State { empty, brooding = 7, gone = -3 };
  enum Plain { wren, owl };
  template <class T> struct Of { static constexpr T value = 3; template <class U> struct And {}; };
};
Nest operator""_nests(unsigned long long);
Nest operator-(Nest, Nest);
namespace lark { template <class T> int sing(T); template <class T> struct Song { static int notes; }; inline namespace v2 { int hum(int); } }
int hum(long);

// Operators, in what a function gives.
#define UNARY(name, op) template <class T> auto name(T t) -> decltype(op t) { __builtin_trap(); } template auto name<int>(int) -> decltype(op 1);
UNARY(negated, -) UNARY(same, +) UNARY(inverted, ~) UNARY(denied, !)
template <class T> auto pointed(T t) -> decltype(*t) { __builtin_trap(); }                     template auto pointed<int *>(int *t) -> decltype(*t);
template <class T> auto addressed(T &t) -> decltype(&t) { __builtin_trap(); }                   template auto addressed<int>(int &t) -> decltype(&t);
template <class T> auto before(T t) -> decltype(++t) { __builtin_trap(); }     template auto before<int>(int t) -> decltype(++t);
template <class T> auto after(T t) -> decltype(t++) { __builtin_trap(); }                        template auto after<int>(int t) -> decltype(t++);
template <class T> auto lesser(T t) -> decltype(--t) { __builtin_trap(); }     template auto lesser<int>(int t) -> decltype(--t);
template <class T> auto fewer(T t) -> decltype(t--) { __builtin_trap(); }                        template auto fewer<int>(int t) -> decltype(t--);
#define BINARY(name, op) template <class T, class U> auto name(T t, U u) -> decltype(t op u) { __builtin_trap(); } template auto name<int, int>(int t, int u) -> decltype(t op u);
BINARY(sum, +) BINARY(difference, -) BINARY(product, *) BINARY(quotient, /) BINARY(rest, %) BINARY(both, &) BINARY(either, |) BINARY(one, ^)
BINARY(shifted, <<) BINARY(lowered, >>) BINARY(less, <) BINARY(greater, >) BINARY(atMost, <=) BINARY(atLeast, >=) BINARY(equal, ==) BINARY(other, !=)
BINARY(together, &&) BINARY(any, ||)
#define ASSIGNMENT(name, op) template <class T, class U> auto name(T &t, U u) -> decltype(t op u) { __builtin_trap(); } template auto name<int, int>(int &t, int u) -> decltype(t op u);
ASSIGNMENT(set, =) ASSIGNMENT(added, +=) ASSIGNMENT(taken, -=) ASSIGNMENT(multiplied, *=) ASSIGNMENT(divided, /=) ASSIGNMENT(remaining, %=)
ASSIGNMENT(masked, &=) ASSIGNMENT(joined, |=) ASSIGNMENT(differing, ^=) ASSIGNMENT(raised, <<=) ASSIGNMENT(sunk, >>=)
template <class T, class U> auto listed(T t, U u) -> decltype(t, u) { __builtin_trap(); }        template auto listed<int, char>(int t, char u) -> decltype(t, u);
template <class T> auto chosen(bool b, T t) -> decltype(b ? t : -t) { __builtin_trap(); }        template auto chosen<int>(bool b, int t) -> decltype(b ? t : -t);

// How tightly operators bind.
template <class T> auto bound(T a, T b, T c) -> When<((a + b) * c > 3) && sizeof(a) == 4 || sizeof(b) != 2>;
#define ARITHMETIC(name, ...) template <class T> auto name(T a, T b, T c) -> decltype(__VA_ARGS__) { __builtin_trap(); } template auto name<int>(int a, int b, int c) -> decltype(__VA_ARGS__);
ARITHMETIC(bind1, (a + b) * c) ARITHMETIC(bind2, a + b * c) ARITHMETIC(bind3, a - (b - c)) ARITHMETIC(bind4, (a - b) - c) ARITHMETIC(bind5, -(a + b))
ARITHMETIC(bind6, (a, b) + c) ARITHMETIC(bind7, a ? b : c ? a : b) ARITHMETIC(bind8, (a ? b : c) + 1) ARITHMETIC(bind9, !(a && b) || c)
ARITHMETIC(bind10, (a << b) + c) ARITHMETIC(bind11, (a < b) == (b < c)) ARITHMETIC(bind12, (int)(a + b)) ARITHMETIC(bind13, -(-a)) ARITHMETIC(bind14, ~a & b | c ^ a)
ARITHMETIC(bind15, (a & b) == c) ARITHMETIC(bind16, (a || b) && c) ARITHMETIC(bind17, a * (b / c) % a)
ARITHMETIC(bind18, static_cast<long>(a) - 'c' + 1ul) ARITHMETIC(bind19, (a > b) + (b >> c))
template <class T> auto assigned(T &a, T &b) -> decltype(a = b = a) { __builtin_trap(); }        template auto assigned<int>(int &a, int &b) -> decltype(a = b = a);
template <class T> auto assigned2(T &a, T &b) -> decltype((a = b) = a) { __builtin_trap(); }     template auto assigned2<int>(int &a, int &b) -> decltype((a = b) = a);
template <class T> auto assigned3(T &a, T b) -> decltype(a += (b, 1)) { __builtin_trap(); }      template auto assigned3<int>(int &a, int b) -> decltype(a += (b, 1));

// Members, calls and names.
template <class T> auto field(T t) -> decltype(t.eggs) { __builtin_trap(); }                    template auto field<Nest>(Nest t) -> decltype(t.eggs);
template <class T> auto through(T *t) -> decltype(t->eggs) { __builtin_trap(); }                template auto through<Nest>(Nest *t) -> decltype(t->eggs);
template <class T> auto deeper(T *t) -> decltype((*t).box.width) { __builtin_trap(); }          template auto deeper<Nest>(Nest *t) -> decltype((*t).box.width);
template <class T> auto inside(T t) -> decltype(t.Nest::eggs) { __builtin_trap(); }             template auto inside<Nest>(Nest t) -> decltype(t.Nest::eggs);
template <class T> auto inside2(T t) -> decltype(t.T::eggs) { __builtin_trap(); }               template auto inside2<Nest>(Nest t) -> decltype(t.Nest::eggs);
template <class T> auto called(T t) -> decltype(t.count()) { __builtin_trap(); }                template auto called<Nest>(Nest t) -> decltype(t.count());
template <class T> auto turned(T t) -> decltype(t.template as<char>()) { __builtin_trap(); }    template auto turned<Nest>(Nest t) -> decltype(t.template as<char>());
template <class T> auto destroyed(T *t) -> decltype(t->~T()) {}                          template auto destroyed<Nest>(Nest *t) -> decltype(t->~Nest());
template <class T> auto plus(T t) -> decltype(t.operator+(t)) { __builtin_trap(); }              template auto plus<Nest>(Nest t) -> decltype(t.operator+(t));
template <class T> auto whether(T t) -> decltype(t.operator bool()) { __builtin_trap(); }       template auto whether<Nest>(Nest t) -> decltype(t.operator bool());
template <class T> auto invoked(T t) -> decltype(t(1, 2)) { __builtin_trap(); }                 template auto invoked<Nest>(Nest t) -> decltype(t(1, 2));
template <class T> auto indexed(T t) -> decltype(t[3]) { __builtin_trap(); }                    template auto indexed<Nest>(Nest t) -> decltype(t[3]);
template <class T> auto clutch(T t) -> decltype(t.clutch[1] + 2) { __builtin_trap(); }          template auto clutch<Nest>(Nest t) -> decltype(t.clutch[1] + 2);
template <class T> auto starred(T t, int T::*m) -> decltype(t.*m) { __builtin_trap(); }  template auto starred<Nest>(Nest t, int Nest::*m) -> decltype(t.*m);
template <class T> auto starred2(T *t, int T::*m) -> decltype(t->*m) { __builtin_trap(); }   template auto starred2<Nest>(Nest *t, int Nest::*m) -> decltype(t->*m);
template <class T> auto sung(T t) -> decltype(lark::sing(t)) { __builtin_trap(); }              template auto sung<int>(int t) -> decltype(lark::sing(t));
template <class T> auto sung2(T t) -> decltype(lark::sing<T>(t)) { __builtin_trap(); }          template auto sung2<int>(int t) -> decltype(lark::sing<int>(t));
template <class T> auto sung3(T t) -> decltype(lark::hum(t)) { __builtin_trap(); }              template auto sung3<int>(int t) -> decltype(lark::hum(t));
template <class T> auto global(T t) -> decltype(::hum(t)) { __builtin_trap(); }                 template auto global<int>(int t) -> decltype(::hum(t));
template <class T> auto found(T t) -> decltype(hum(t)) { __builtin_trap(); }                    template auto found<long>(long t) -> decltype(hum(t));
template <class T> auto notes() -> decltype(lark::Song<T>::notes) { __builtin_trap(); }         template auto notes<int>() -> decltype(lark::Song<int>::notes);
template <class T> auto whole() -> decltype(T::all) { __builtin_trap(); }                       template auto whole<Nest>() -> decltype(Nest::all);
template <class T> auto tallied() -> decltype(T::tally(3)) { __builtin_trap(); }                template auto tallied<Nest>() -> decltype(Nest::tally(3));
template <class T> auto summed() -> decltype(T::template sum<char>('a')) { __builtin_trap(); }  template auto summed<Nest>() -> decltype(Nest::sum<char>('a'));
template <class T> auto valued() -> Holds<T::template Of<int>::value> { __builtin_trap(); }     template auto valued<Nest>() -> Holds<Nest::Of<int>::value>;
template <class T> auto nested(typename T::template Of<int>::template And<T> *) {}       template auto nested<Nest>(Nest::Of<int>::And<Nest> *);
template <class T> auto boxed() -> decltype(T::Box::width) *{ __builtin_trap(); }
template <class T> auto boxed2() -> decltype(made<typename T::Box>().width) *{ __builtin_trap(); } template auto boxed2<Nest>() -> decltype(made<Nest::Box>().width) *;

// Casts, braces, sizes.
template <class T> auto castC(T t) -> decltype((long)t) { __builtin_trap(); }                   template auto castC<int>(int t) -> decltype((long)t);
template <class T> auto castTo(T t) -> decltype((T *)nullptr) { __builtin_trap(); }             template auto castTo<int>(int t) -> decltype((int *)nullptr);
template <class T> auto castS(T t) -> decltype(static_cast<T &&>(t)) { __builtin_trap(); } template auto castS<int>(int t) -> decltype(static_cast<int &&>(t));
template <class T> auto castD(T *t) -> decltype(dynamic_cast<void *>(t)) { __builtin_trap(); }
struct Moving { virtual ~Moving(); };
template auto castD<Moving>(Moving *t) -> decltype(dynamic_cast<void *>(t));
template <class T> auto castK(T *t) -> decltype(const_cast<const T *>(t)) { __builtin_trap(); } template auto castK<int>(int *t) -> decltype(const_cast<const int *>(t));
template <class T> auto castR(T *t) -> decltype(reinterpret_cast<char *>(t)) { __builtin_trap(); } template auto castR<int>(int *t) -> decltype(reinterpret_cast<char *>(t));
template <class T> auto made1(T t) -> decltype(Nest{t}) { __builtin_trap(); }                   template auto made1<int>(int t) -> decltype(Nest{t});
template <class T> auto made2() -> decltype(T{}) { __builtin_trap(); }                          template auto made2<int>() -> decltype(int{});
template <class T> auto made3(T t) -> decltype(T()) { __builtin_trap(); }                       template auto made3<int>(int t) -> decltype(int());
template <class T> auto made4(T t) -> decltype(std::pair<T, int>(t, 3)) { __builtin_trap(); }   template auto made4<int>(int t) -> decltype(std::pair<int, int>(t, 3));
template <class T> auto made5(T t) -> decltype(T{1, {2, 3}}) { __builtin_trap(); }              template auto made5<Nest>(Nest t) -> decltype(Nest{1, {2, 3}});
template <class T> auto made6(T t) -> decltype(T{.eggs = 1, .clutch = {2}}) { __builtin_trap(); } template auto made6<Nest>(Nest t) -> decltype(Nest{.eggs = 1, .clutch = {2}});
template <class T> auto size1(T t) -> char (*)[sizeof(T)] { __builtin_trap(); }                 template auto size1<int>(int t) -> char (*)[sizeof(int)];
template <class T> auto size2(T t) -> char (*)[sizeof(t.eggs)] { __builtin_trap(); }            template auto size2<Nest>(Nest t) -> char (*)[4];
template <class T> auto align1(T t) -> char (*)[alignof(T)] { __builtin_trap(); }               template auto align1<int>(int t) -> char (*)[4];
template <class... T> auto size3(T... t) -> char (*)[sizeof...(T)] { __builtin_trap(); }        template auto size3<int, char>(int, char) -> char (*)[2];
template <class... T> auto size4(T... t) -> char (*)[sizeof...(t)] { __builtin_trap(); }        template auto size4<int, char>(int, char) -> char (*)[2];
template <class T> auto can(T t) -> When<noexcept(t + 1)> { __builtin_trap(); }                 template auto can<int>(int t) -> When<true>;
template <class T> auto typed(T t) -> decltype(typeid(T).name()) { __builtin_trap(); }          template auto typed<int>(int t) -> decltype(typeid(int).name());
template <class T> auto typed2(T t) -> decltype(typeid(t).name()) { __builtin_trap(); }         template auto typed2<int>(int t) -> decltype(typeid(1).name());
template <class T> auto thrown(T t) -> decltype(throw t) {}                              template auto thrown<int>(int t) -> decltype(throw t);
template <class T> auto rethrown(T t) -> decltype(t ? throw : 1) { __builtin_trap(); }          template auto rethrown<int>(int t) -> decltype(t ? throw : 1);

// Memory.
template <class T> auto new1(T t) -> decltype(new T) { __builtin_trap(); }                      template auto new1<int>(int t) -> decltype(new int);
template <class T> auto new2(T t) -> decltype(new T(t)) { __builtin_trap(); }                   template auto new2<int>(int t) -> decltype(new int(t));
template <class T> auto new3(T t) -> decltype(new T[3]) { __builtin_trap(); }                   template auto new3<int>(int t) -> decltype(new int[3]);
template <class T> auto new4(void *p, T t) -> decltype(new (p) T(t)) { __builtin_trap(); }      template auto new4<int>(void *p, int t) -> decltype(new (p) int(t));
template <class T> auto new5(void *p, T t) -> decltype(::new (p) T(t)) { __builtin_trap(); }    template auto new5<int>(void *p, int t) -> decltype(::new (p) int(t));
template <class T> auto new6(T t) -> decltype(new T{t}) { __builtin_trap(); }                   template auto new6<int>(int t) -> decltype(new int{t});
template <class T> auto new7(T t) -> decltype(new T()) { __builtin_trap(); }                    template auto new7<int>(int t) -> decltype(new int());
template <class T> auto delete1(T *t) -> decltype(delete t) {}                           template auto delete1<int>(int *t) -> decltype(delete t);
template <class T> auto delete2(T *t) -> decltype(delete[] t) {}                         template auto delete2<int>(int *t) -> decltype(delete[] t);
template <class T> auto delete3(T *t) -> decltype(::delete t) {}                         template auto delete3<int>(int *t) -> decltype(::delete t);

// Folds and packs.
template <class... T> auto fold1(T... t) -> decltype((t + ...)) { __builtin_trap(); }           template auto fold1<int, int>(int, int) -> int;
template <class... T> auto fold2(T... t) -> decltype((... + t)) { __builtin_trap(); }           template auto fold2<int, int>(int, int) -> int;
template <class... T> auto fold3(T... t) -> decltype((1 + ... + t)) { __builtin_trap(); }       template auto fold3<int, int>(int, int) -> int;
template <class... T> auto fold4(T... t) -> decltype((t + ... + 1)) { __builtin_trap(); }       template auto fold4<int, int>(int, int) -> int;
template <class... T> auto fold5(T... t) -> decltype((t.count() && ...)) { __builtin_trap(); }  template auto fold5<Nest, Nest>(Nest, Nest) -> bool;
template <class... T> auto fold6(T... t) -> decltype((..., t)) { __builtin_trap(); }            template auto fold6<int, char>(int, char) -> char &;
template <int... N> auto fold7() -> Holds<(N * ... * 2)> { __builtin_trap(); }                  template auto fold7<3, 4>() -> Holds<24>;
template <class... T> auto packed(T... t) -> decltype(lark::sing(t...)) { __builtin_trap(); }   template auto packed<int>(int) -> int;
template <class... T> auto packed2(T... t) -> Holds<sizeof(T)...> { __builtin_trap(); }         template auto packed2<int, char>(int, char) -> Holds<4ul, 1ul>;
template <class... T> auto packed3(T... t) -> std::pair<Holds<(t.eggs, 1)...>, T...>;

// Values as arguments of templates.
extern int place;
void whistle(int);
template <class T> struct Sound { T pitch; constexpr bool operator==(const Sound &) const = default; };
struct Range { int low, high; float step; const char *unit; int Nest::*at; };
union Either { int whole; float part; };
#define HELD(name, ...) void name(Holds<__VA_ARGS__>) {}
HELD(value1, 1) HELD(value2, -1) HELD(value3, true) HELD(value4, false) HELD(value5, 'c') HELD(value6, 3u) HELD(value7, 3l) HELD(value8, 3ul) HELD(value9, -3ll)
HELD(value10, 3ull) HELD(value11, (short)-4) HELD(value12, (unsigned char)200) HELD(value13, (signed char)-2) HELD(value14, L'w') HELD(value15, u'x') HELD(value16, U'y')
HELD(value17, u8'z') HELD(value18, nullptr) HELD(value19, Nest::State::brooding) HELD(value20, Nest::State::gone) HELD(value21, Nest::owl) HELD(value22, &place)
HELD(value23, &whistle) HELD(value24, &Nest::eggs) HELD(value25, &Nest::count) HELD(value26, (int *)nullptr) HELD(value27, &Nest::all) HELD(value28, &lark::sing<int>)
HELD(value29, &Nest::as<char>) HELD(value30, (__int128)5) HELD(value31, (unsigned short)65535)
HELD(value32, 1.5f) HELD(value33, -2.25) HELD(value34, 1e300) HELD(value35, 0.0f) HELD(value36, Sound<int>{3}) HELD(value37, Sound<float>{-0.5f}) HELD(value38, Sound<Sound<char>>{{'q'}})
HELD(value39, Range{1, 2, 0.5f, nullptr, nullptr}) HELD(value40, Range{-1, 0, 0, nullptr, &Nest::eggs}) HELD(value41, Either{.whole = 3}) HELD(value42, Either{.part = 1.5f})
HELD(value43, (void (*)(int))nullptr) HELD(value44, Sound<bool>{true}) HELD(value45, 1.5L) HELD(value46, Range{})
HELD(value54, 5e-324) HELD(value55, 1e-40f) HELD(value56, -0.0) HELD(value57, __builtin_inf()) HELD(value58, __builtin_nanf("")) HELD(value59, 2.2250738585072009e-308)
HELD(value60, 3.6e-4951L) HELD(value61, -1e4000L) HELD(value62, 0.0L) HELD(value63, 3.14159274f) HELD(value64, 0x1p-126f) HELD(value65, 1e-45f) HELD(value66, -__builtin_infl())
struct Rows { int row[3]; Sound<int> sounds[2]; };
HELD(value47, Rows{{1, 2, 3}, {{4}, {5}}}) HELD(value48, Rows{{1}, {}})
template <int &R> void held() {} template void held<place>();
extern Nest nests[4];
HELD(value49, &nests[2]) HELD(value50, &nests[1].clutch[2]) HELD(value51, &nests[0].eggs) HELD(value52, []{}) HELD(value53, [](int x) { return x; })
template <int N, class T = int> void number(Holds<N + 1> *) {} template void number<3>(Holds<4> *);
template <int N> void array(int (&)[N]) {} template void array<7>(int (&)[7]);
template <int N> void array2(int (&)[N * 2 + 1]) {} template void array2<3>(int (&)[7]);
template <class T, T V> void kept(Holds<V>) {} template void kept<unsigned, 7u>(Holds<7u>);
template <template <class> class C, class T> void around(C<T>) {} template void around<lark::Song, int>(lark::Song<int>);
template <template <class...> class... C> void arounds() {} template void arounds<lark::Song, Sound>();
template <auto V> void deduced() {} template void deduced<3>(); template void deduced<&whistle>();
template <class T> void excepts(void (*)() noexcept(sizeof(T) == 4)) {} template void excepts<int>(void (*)() noexcept(true));
void excepts2(void (*)() noexcept) {}
template <class T> void bits(T (&)(int) , const volatile T *, T &&) {} template void bits<int>(int (&)(int), const volatile int *, int &&);
void qualified(int (Nest::*)() const &, int (Nest::*)() &&, int (Nest::*)(...) volatile) {}
void vectors(float __attribute__((vector_size(16))), int __attribute__((vector_size(32)))) {}
void complex(_Complex float, _Complex double) {}
void wide(__int128, unsigned __int128, long double, char8_t, char16_t, char32_t, wchar_t, decltype(nullptr)) {}
void variadic(const char *, ...) {}
void bitint(_BitInt(7), unsigned _BitInt(128)) {}
template <int N> void bitint2(_BitInt(N)) {} template void bitint2<9>(_BitInt(9));
void half(_Float16, __bf16) {}

// Concepts and what they demand.
template <class T> concept Sings = requires(T t, int n) { t.count(); { t.eggs } -> std::convertible_to<int>; typename T::Box; requires sizeof(T) > 1; { t(n, n) } noexcept; };
template <class T> concept Counts = requires(T t) { t.count(); };
template <class T, class U> concept Alike = requires(T t, U u) { t == u; };
template <class T> requires Counts<T> void demands1(T) {}                                template void demands1<Nest>(Nest);
template <class T> requires(sizeof(T) > 4) void demands2(T) {}                           template void demands2<Nest>(Nest);
template <class T> void demands3(T) requires Counts<T> && (!Alike<T, char *>) {}            template void demands3<Nest>(Nest);
template <Counts T> void demands4(T) {}                                                  template void demands4<Nest>(Nest);
void demands5(Counts auto) {}                                                            template void demands5<Nest>(Nest);
template <Alike<int> T> void demands6(T) {}                                              template void demands6<int>(int);
template <class T> requires requires(T t, int n) { t.count(); { t.eggs } -> std::convertible_to<int>; typename T::Box; requires sizeof(T) > 1; { t.count() } noexcept -> Alike<int>; } void demands7(T) {}
template <class T> requires requires { typename T::Box; requires true; } void demands8(T) {} template void demands8<Nest>(Nest);
template <class T> requires requires(T t, int n) { t.count(); { t.eggs } -> std::convertible_to<int>; typename T::Box; requires sizeof(T) > 1; } void demands9(T) {} template void demands9<Nest>(Nest);
template <class T> requires requires(T t) { { t.eggs + 1 } noexcept; } void demands10(T) {} template void demands10<Nest>(Nest);
template <class... T> requires(Counts<T> && ...) void demands11(T...) {}                 template void demands11<Nest, Nest>(Nest, Nest);
template <template <Counts> class C> void demands12() {}
template <Counts T> struct Flock {};
template void demands12<Flock>();
template <class T> struct Perch { void sit() requires Counts<T> {} friend void leave(Perch) requires Counts<T> {} template <class U> requires Alike<T, U> void share(U) {} };
template struct Perch<Nest>; template void Perch<int>::share<int>(int);
void (*left)(Perch<Nest>) = [](Perch<Nest> p) { leave(p); };
auto anything(auto a, auto... rest) { return a; }                                        template auto anything<int, char>(int, char);
template <Counts auto... N> void demands13() {}
decltype(auto) deducedAll(auto &&a) { return a; }                                        template decltype(auto) deducedAll<int>(int &&);
Counts auto deducedSome(auto a) { return a; }                                            template Counts auto deducedSome<Nest>(Nest);

// Functions within functions, names without a name.
template <class T> auto within() { struct Local { auto run() { return [](auto x) { return [x](T t) { return t; }; }; } }; return Local{}.run()(1)(T{}); }
template auto within<int>();
inline auto counted() { struct A { int x; }; { struct A { char y; }; return A{}; } }
void uses() { (void)counted(); auto lambda = []<class T, int N, template <class> class C, class... P>(T (&)[N], C<T>, P...) { return N; }; int a[3]; lambda(a, lark::Song<int>{}); lambda(a, Sound<int>{}, 1, 'c'); }
struct Holder { decltype([] { return 1; }) first; int second = [] { return 2; }(); int asked(int = [] { return 3; }()); };
int useHolder() { Holder h; h.first(); return h.asked(); }
inline int initialised = [] { return 4; }();
template <class T> inline int of = [](T t) { return t; }(3);
int useOf() { return of<int> + initialised; }
static auto [bound1, bound2] = std::pair{1, 2};
int useBound() { return bound1 + bound2; }
namespace { struct Hidden { template <class T> void tell(T) {} }; enum { unnamed1 } unnamed; }
template <class T> void tells(T) {}
void useHidden() { Hidden{}.tell(3); tells(unnamed); tells([] {}); tells(unnamed1); struct {} none; tells(none); }
