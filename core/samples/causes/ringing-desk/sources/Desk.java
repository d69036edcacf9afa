package com.larkfield.ringing;

import java.util.*;
import java.util.stream.Collectors;

public class Desk {
    private final Map<String, Ring> rings = new HashMap<>();
    private int opened;

    public void show(String code) {
        System.out.println(rings.get(code).label().length());
    }

    public void enter(String code) {
        rings.put(code, Ring.parse(code));
    }

    public void rename(String code, String wanted) {
        rings.put(wanted, new Ring(code).renamed(wanted));
    }

    public void print(Ring ring) {
        String text = Format.line(ring, 80);
        System.out.println(text);
    }

    public void send(Ring ring) {
        byte[] bytes = Format.line(ring, 20).getBytes();
        System.out.println(bytes.length);
    }

    public int totals(List<String> counts) {
        return counts.stream().map(count -> Integer.valueOf(count)).collect(Collectors.toList()).size();
    }

    public int lengths(List<String> names) {
        return names.stream().mapToInt(String::length).sum();
    }

    private void tick(int by) {
        opened += by;
        if (opened > 0) throw new IllegalStateException("the drawer is stuck at " + opened);
    }

    public class Drawer {
        public void open() {
            tick(1);
        }
    }

    static <T> int compare(Comparator<T> order, T one, T other) {
        return order.compare(one, other);
    }

    public static int compareRings(Comparator<Ring> order) {
        return compare(order, new Ring("a"), new Ring(null));
    }

    public Runnable later() {
        return new Runnable() {
            @Override
            public void run() {
                rings.get("later").label();
            }
        };
    }

    public int scale() {
        return Scale.grams(4);
    }

    public void load(String name) {
        try {
            Archive.read(name);
        } catch (java.io.IOException problem) {
            throw new IllegalStateException("could not load " + name, problem);
        }
    }
}
