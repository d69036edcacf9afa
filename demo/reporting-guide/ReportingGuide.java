package com.larkfield.guide;

import java.io.File;
import java.util.HashMap;
import java.util.Map;

/** The guide with the reporter in it, as it ships: opens a screen, or with none just starts and ends. */
public final class ReportingGuide {
    public static void main(String[] arguments) throws Exception {
        EmberReporter.Options options = new EmberReporter.Options(arguments[0], arguments[1], "4.3.2", "432", new File(arguments[2]));
        options.deviceModel = "OD-40";
        options.stateAtCrash = () -> {
            Map<String, Object> state = new HashMap<>();
            state.put("screen", arguments.length > 3 ? arguments[3] : "none");
            state.put("zoom", 14);
            return state;
        };
        EmberReporter reporter = EmberReporter.install(options);
        if (arguments.length > 3 && arguments[3].equals("stopwatch")) {
            stopwatch(reporter);
            return;
        }
        reporter.screen("home");
        reporter.request("GET", "tiles.larkfield.example", "/v2/{zoom}/{x}/{y}", 504, 8_000);
        if (arguments.length > 3) {
            reporter.screen(arguments[3]);
            Guide.main(new String[] {arguments[3]});
        } else {
            reporter.end();
            reporter.flush(20_000);
        }
    }

    /** Prints how long the slowest call took, in milliseconds, while the server takes its time. */
    private static void stopwatch(EmberReporter reporter) {
        long slowest = 0;
        for (int turn = 0; turn < 60; turn++) {
            long began = System.nanoTime();
            if (turn % 4 == 0) reporter.screen("home " + turn);
            else if (turn % 4 == 1) reporter.request("GET", "tiles.larkfield.example", "/v2/{zoom}/{x}/{y}", 200, turn);
            else if (turn % 4 == 2) reporter.report(new Selfish("turn " + turn));
            else reporter.end();
            if (turn >= 8) slowest = Math.max(slowest, System.nanoTime() - began);
        }
        System.out.println("slowest " + slowest / 1_000_000);
    }

    /** An exception whose own code fails, as the host's code may. */
    private static final class Selfish extends RuntimeException {
        Selfish(String message) {
            super(message);
        }

        @Override
        public String getMessage() {
            throw new IllegalStateException("says nothing");
        }
    }
}
