package com.larkfield.guide.map;

import java.util.HashMap;
import java.util.Map;

/** The tiles that were drawn last. */
final class TileCache {
    private final Map<Integer, String> tiles = new HashMap<>();

    void keep(int key, String tile) {
        tiles.put(key, tile);
    }

    String peek(int key) {
        return tiles.get(key);
    }
}
