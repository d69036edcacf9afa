package com.larkfield.owls;

import java.util.HashMap;
import java.util.Map;

public final class Registry {
    private static final Map<String, Service> SERVICES = new HashMap<>();

    public interface Service {
        void start();

        default void restart() {
            start();
        }
    }

    public static <T> T as(Class<T> type, Object value) {
        return type.cast(value);
    }

    public static Service service(String name) {
        Service found = SERVICES.get(name);
        if (found == null) throw new java.util.NoSuchElementException("no service " + name);
        return found;
    }
}
