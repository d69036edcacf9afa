package com.larkfield.guide;

import java.io.File;

/** The guide with the reporter in it, as it ships: opens a screen, or with none just starts and ends. */
public final class ReportingGuide {
    public static void main(String[] arguments) throws Exception {
        EmberReporter.Options options = new EmberReporter.Options(arguments[0], arguments[1], "4.3.2", "432", new File(arguments[2]));
        options.deviceModel = "OD-40";
        options.stateAtCrash = () -> "{\"screen\":\"" + (arguments.length > 3 ? arguments[3] : "none") + "\",\"zoom\":14}";
        EmberReporter reporter = EmberReporter.install(options);
        reporter.screen("home");
        reporter.request("GET", "tiles.larkfield.example", "/v2/{zoom}/{x}/{y}", 504, 8_000);
        if (arguments.length > 3) {
            reporter.screen(arguments[3]);
            Guide.main(new String[] {arguments[3]});
        } else {
            reporter.end();
        }
    }
}
