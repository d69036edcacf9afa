package com.larkfield.owls;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

public class Bus {
    private final List<Consumer<String>> listeners = new ArrayList<>();

    public Bus on(Consumer<String> listener) {
        listeners.add(listener);
        return this;
    }

    public void fire(String event) {
        listeners.forEach(listener -> listener.accept(event));
    }

    public void chain(String event) {
        Bus other = new Bus().on(this::reject);
        on(other::fire);
        fire(event);
    }

    private void reject(String event) {
        throw new UnsupportedOperationException("nobody takes " + event);
    }
}
