// Trails in small, in the shape that Dart's compiler gives ahead-of-time code: one section of instructions that begins at
// _kDartIsolateSnapshotInstructions, debug information with the names and package paths of Dart, throws through a stub.
// No Dart compiler is needed; build.sh gives the functions their Dart names.
typedef struct { double latitude, longitude; } Waypoint;
typedef struct { Waypoint *points; long length; } Track;

__attribute__((noinline, noreturn)) extern void stub_iso_stub_ThrowStub(void *);
extern void *AsyncStub(long);

__attribute__((section(".text.isolate"))) void _kDartIsolateSnapshotInstructions(void) {}

#define ISOLATE __attribute__((section(".text.isolate"), noinline))
#define INLINED __attribute__((always_inline)) static inline

#line 41 "package:trails/src/track.dart"
INLINED Waypoint *Track_last(Track *track) {
  if (track->length == 0)
    stub_iso_stub_ThrowStub(track);
  return &track->points[track->length - 1];
}

#line 58 "package:trails/src/track.dart"
ISOLATE double Track_distanceTo(Track *track, Waypoint *other) {
  Waypoint *last = Track_last(track);
  return (last->latitude - other->latitude) * (last->longitude - other->longitude);
}

#line 102 "package:trails/src/recorder.dart"
ISOLATE double TrackRecorder_addPoint(Track *track, Waypoint *next) {
  double moved = Track_distanceTo(track, next);
  track->length++;
  return moved;
}

#line 77 "package:trails/src/recorder.dart"
ISOLATE double TrackRecorder_start_closure(Track *track, Waypoint *next) {
  double moved = TrackRecorder_addPoint(track, next);
  return AsyncStub(track->length) ? moved : 0;
}

#line 23 "package:trails/src/offline_map.dart"
ISOLATE long OfflineMap_tileAt(Track *track, long index) {
  if (index > track->length)
    stub_iso_stub_ThrowStub(track);
  return index + RELEASE;
}

#line 64 "package:trails/src/map_page.dart"
ISOLATE long MapPage_build(Track *track, long index) {
  long tile = OfflineMap_tileAt(track, index);
  return tile * 2 + (long)AsyncStub(tile);
}

#if RELEASE >= 170
#line 31 "package:trails/src/share.dart"
ISOLATE long ShareSheet_export(Track *track, long format) {
  if (format != 3)
    stub_iso_stub_ThrowStub(track);
  return track->length;
}

#line 19 "package:trails/src/share_page.dart"
ISOLATE long SharePage_onTap_closure(Track *track, long format) {
  long shared = ShareSheet_export(track, format);
  return shared + (long)AsyncStub(shared);
}
#endif
