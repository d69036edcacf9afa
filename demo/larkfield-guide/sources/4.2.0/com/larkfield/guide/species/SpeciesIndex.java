package com.larkfield.guide.species;

import java.util.HashMap;
import java.util.Map;

/** Built once, when the class is first used. */
final class SpeciesIndex {
    private static final Map<String, Integer> RANKS = build("Merlin=1;Hobby=2;Kestrel");

    private SpeciesIndex() {}

    static int rank(String name) {
        return RANKS.get(name);
    }

    private static Map<String, Integer> build(String table) {
        Map<String, Integer> ranks = new HashMap<>();
        for (String row : table.split(";")) {
            int cut = row.indexOf('=');
            ranks.put(row.substring(0, cut), Integer.valueOf(row.substring(cut + 1)));
        }
        return ranks;
    }
}
