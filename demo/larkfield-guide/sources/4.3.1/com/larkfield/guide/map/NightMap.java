package com.larkfield.guide.map;

import com.larkfield.guide.text.Require;

/** The map in dark colours; it trusts the cache to hold every tile the day map has drawn. */
final class NightMap {
    private final TileCache cache = new TileCache();

    private int drawn;

    NightMap() {
        cache.keep(key(6, 31, 20), "coast");
    }

    String tileFor(int zoom, int x, int y) {
        String tile = Require.present(cache.peek(key(zoom, x, y)), "tile");
        drawn++;
        return tile + " darkened " + drawn;
    }

    private static int key(int zoom, int x, int y) {
        return (zoom * 4096 + x) * 4096 + y;
    }
}
