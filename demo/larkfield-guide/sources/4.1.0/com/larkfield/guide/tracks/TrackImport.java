package com.larkfield.guide.tracks;

import java.util.ArrayList;
import java.util.List;

/** Reads a recorded walk, one point a line. */
public final class TrackImport {
    private TrackImport() {}

    public static void run(String text) {
        List<Point> points = new ArrayList<>();
        for (String line : text.split("\n")) {
            points.add(point(line));
        }
        System.out.println(points.size());
    }

    private static Point point(String line) {
        String[] parts = line.split(",");
        try {
            return new Point(Double.parseDouble(parts[0]), Double.parseDouble(parts[1]));
        } catch (NumberFormatException cause) {
            throw new BadTrack("point cannot be read:\n  " + line + "\n  at most two numbers are expected", cause);
        }
    }

    static final class Point {
        final double latitude;
        final double longitude;

        Point(double latitude, double longitude) {
            this.latitude = latitude;
            this.longitude = longitude;
        }
    }

    /** Its message has several lines, one of which begins like a frame. */
    static final class BadTrack extends IllegalArgumentException {
        BadTrack(String message, Throwable cause) {
            super(message, cause);
        }
    }
}
