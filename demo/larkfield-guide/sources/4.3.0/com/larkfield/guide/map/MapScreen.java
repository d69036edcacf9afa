package com.larkfield.guide.map;

import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/** The map a person moves with a finger. */
public final class MapScreen {
    private final List<MapLayer> layers = Arrays.asList(new MapLayer(20), new MapLayer(21));

    public void onRedraw() {
        System.out.println(layers.stream().map(layer -> layer.draw()).collect(Collectors.joining("\n")));
    }
}
