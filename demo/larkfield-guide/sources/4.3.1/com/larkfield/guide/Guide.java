package com.larkfield.guide;

import com.larkfield.guide.alerts.RareBirdAlert;
import com.larkfield.guide.map.MapScreen;
import com.larkfield.guide.notes.FieldNotes;
import com.larkfield.guide.settings.Settings;
import com.larkfield.guide.sightings.ChecklistPager;
import com.larkfield.guide.sightings.DiaryExport;
import com.larkfield.guide.sightings.SightingForm;
import com.larkfield.guide.species.SpeciesScreen;
import com.larkfield.guide.tides.TideScreen;
import com.larkfield.guide.tracks.TrackImport;
import java.util.Arrays;

/** Opens one screen of the guide; each screen name leads to what went wrong on it in the field. */
public final class Guide {
    public static void main(String[] arguments) throws Exception {
        String screen = arguments[0];
        new RareBirdAlert(arguments.length + 4).show("Hoopoe");
        switch (screen) {
            case "sighting-form":
                new SightingForm("Marsh hide").submit();
                break;
            case "checklist":
                new ChecklistPager(12).scrollToEnd();
                break;
            case "tides":
                new TideScreen().open();
                break;
            case "track-import":
                TrackImport.run("53.41,-2.97\n53.42,-2.9x\n");
                break;
            case "diary-export":
                new DiaryExport().toCard();
                break;
            case "species":
                new SpeciesScreen().show("Merlin");
                break;
            case "settings":
                new Settings().restore("radius=12;night=yes");
                break;
            case "night-map":
                new MapScreen().onRedraw();
                break;
            case "field-notes":
                new FieldNotes().merge(Arrays.asList("heard only", "", "two adults"));
                break;
            default:
                throw new IllegalArgumentException("no screen called " + screen);
        }
    }
}
