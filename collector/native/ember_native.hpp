/* Tells the type and the message of a C++ exception that nothing catches, with the crash that it ends in. */
#ifndef EMBER_NATIVE_HPP
#define EMBER_NATIVE_HPP

#include <cxxabi.h>
#include <cstdlib>
#include <exception>
#include <typeinfo>
#include "ember_native.h"

namespace ember {

inline std::terminate_handler &handler_before() {
  static std::terminate_handler before = nullptr;
  return before;
}

/* Call it once, after ember_native_start. The handler that was there before has its turn. */
inline void watch_exceptions() {
  handler_before() = std::set_terminate([] {
    if (const std::exception_ptr thrown = std::current_exception()) {
      try {
        std::rethrow_exception(thrown);
      } catch (const std::exception &error) {
        int status = 0;
        char *type = abi::__cxa_demangle(typeid(error).name(), nullptr, nullptr, &status);
        ember_native_exception(type ? type : typeid(error).name(), error.what());
        std::free(type);
      } catch (const char *text) {
        ember_native_exception("char const*", text);
      } catch (...) {
        ember_native_exception("", "");
      }
    }
    if (handler_before()) handler_before()();
    std::abort();
  });
}

}  // namespace ember

#endif
