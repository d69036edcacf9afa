package com.larkfield.guide.species;

/** Shows where a species stands in the county list. */
public final class SpeciesScreen {
    public void show(String name) {
        System.out.println(caption(name));
    }

    private String caption(String name) {
        return name + ", number " + SpeciesIndex.rank(name);
    }
}
