/*
 * Rough Ember for native code: writes down a crash where it happens, for the app to send at its next launch.
 *
 *   ember_native_start("/data/…/ember", "4.3.0", "430");      first thing in main
 *   ember_native_pending("/data/…/ember", send, NULL);        some time later, off the app's thread
 *
 * `send` hands the file to POST /intake/v1/file and removes it once that answers 202. The form of the files is docs/native-crash.md.
 * Android and Linux; x86-64, ARM64 and ARM. Nothing here allocates, locks or calls into the C library's buffers while a crash is handled.
 */
#ifndef EMBER_NATIVE_H
#define EMBER_NATIVE_H

#ifdef __cplusplus
extern "C" {
#endif

/*
 * Watches for crashes from now on. The folder is made when it is not there; a file with room for a crash is prepared in it, so that one can
 * be told on a full disk. Gives 0, or an errno when nothing will be told. A second call changes nothing.
 */
int ember_native_start(const char *folder, const char *version, const char *build);

/*
 * Says something that a crash from now on is told with: buildType, osName, osVersion, deviceManufacturer, deviceModel, installationId,
 * personId, sessionId; or an attribute ("attribute.zoom") or a flag ("flag.night-map"). NULL takes it back. At most 64 names; a value of
 * more than 200 bytes is cut.
 */
void ember_native_set(const char *name, const char *value);

/* Something that happened: an event of the protocol as JSON on one line, of at most 500 bytes. The last 64 are told with a crash. */
void ember_native_trail(const char *event);

/* Gives the calling thread a stack to tell of the overflow of its own; the thread that started has one. */
void ember_native_thread(void);

/* What is thrown where nothing catches it, for the crash that follows. `ember_native.hpp` calls it for C++. */
void ember_native_exception(const char *type, const char *message);

/* Writes down an error that the app handles, with the stack of the caller. Gives 0, or an errno. */
int ember_native_error(const char *type, const char *message);

/* Calls back with each file of processes that are gone; gives how many. Files of processes in which nothing happened are removed. */
int ember_native_pending(const char *folder, void (*file)(const char *path, void *with), void *with);

/* Watches no more, and removes what was prepared. */
void ember_native_stop(void);

#ifdef __cplusplus
}
#endif
#endif
