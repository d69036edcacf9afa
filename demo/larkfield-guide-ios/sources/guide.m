// Larkfield Guide for iOS in small: the map of nest boxes and the upload of sightings, beside the library for songs.
// No headers of a system are needed, so that it builds everywhere.
typedef unsigned long size;
extern int Java_com_larkfield_guide_sound_Listener_identify(void *, void *, const float *samples, size length);

__attribute__((objc_root_class))
@interface NestBox {
@public
  int number;
  float *heights;
}
- (float)heightOn:(int)day;
@end

@implementation NestBox
- (float)heightOn:(int)day {
  return heights[day];
}
@end

static inline NestBox *boxAt(NestBox **boxes, int index) { return boxes[index]; }
static inline float shade(NestBox *box, int day) { return box->heights[day] * 0.5f + box->number; }

__attribute__((objc_root_class))
@interface NestBoxMap {
@public
  NestBox **boxes;
  int count;
  float shown;
}
- (void)drawTile:(int)tile;
- (void)drawRect:(int)first through:(int)last;
- (void)listenTo:(const float *)samples length:(size)length;
@end

@implementation NestBoxMap
- (void)drawTile:(int)tile {
  // A tile at the edge has fewer boxes than the others.
  shown += shade(boxAt(boxes, tile * 16), tile);
}

- (void)drawRect:(int)first through:(int)last {
  for (int tile = first; tile <= last; tile++)
    [self drawTile:tile];
}

- (void)listenTo:(const float *)samples length:(size)length {
  count += Java_com_larkfield_guide_sound_Listener_identify(0, 0, samples, length);
}
@end

#if RELEASE >= 320
__attribute__((objc_root_class))
@interface SightingUpload {
@public
  NestBox *box;
  int tries;
}
- (int)retry:(int)limit;
- (void)finishWith:(int)status;
@end

@implementation SightingUpload
- (int)retry:(int)limit {
  if (tries > limit)
    __builtin_trap();
  return ++tries;
}

- (void)finishWith:(int)status {
  if (status != 200)
    tries = [self retry:3];
}
@end
#endif

int main(int count, char **arguments) { return count; }
