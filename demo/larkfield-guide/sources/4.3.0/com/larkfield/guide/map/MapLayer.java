package com.larkfield.guide.map;

/** Draws one row of tiles. */
final class MapLayer {
    private final NightMap map = new NightMap();
    private final int row;

    MapLayer(int row) {
        this.row = row;
    }

    String draw() {
        StringBuilder picture = new StringBuilder();
        for (int x = 31; x < 34; x++) {
            picture.append(map.tileFor(6, x, row));
        }
        return picture.toString();
    }
}
