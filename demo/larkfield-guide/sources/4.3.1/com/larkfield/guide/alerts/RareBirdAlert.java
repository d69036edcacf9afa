package com.larkfield.guide.alerts;

/** Tells the person when something rare was seen nearby. */
public final class RareBirdAlert {
    private final int radiusKilometres;

    public RareBirdAlert(int radiusKilometres) {
        this.radiusKilometres = radiusKilometres;
    }

    public void show(String species) {
        System.out.println(species + " within " + radiusKilometres + " km");
    }
}
