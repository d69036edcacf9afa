package com.larkfield.guide.settings;

import java.util.HashMap;
import java.util.Map;
import java.util.function.Function;

/** Restores what the person chose; a value is read by the reader of its name. */
public final class Settings {
    private final Map<String, Function<String, Object>> readers = new HashMap<>();
    private final Map<String, Object> values = new HashMap<>();

    public Settings() {
        readers.put("radius", text -> Long.valueOf(text));
        readers.put("night", new Function<String, Object>() {
            @Override
            public Object apply(String text) {
                return text.equals("yes");
            }
        });
    }

    public void restore(String stored) {
        for (String pair : stored.split(";")) {
            String[] parts = pair.split("=");
            values.put(parts[0], readers.get(parts[0]).apply(parts[1]));
        }
        System.out.println(radiusKilometres());
    }

    private int radiusKilometres() {
        return (Integer) values.get("radius");
    }
}
