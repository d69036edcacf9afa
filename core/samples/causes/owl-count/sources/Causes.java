package com.larkfield.causes;

import com.larkfield.owls.*;
import java.util.*;

final class Causes {
    static Map<String, Runnable> all() {
        Map<String, Runnable> all = new LinkedHashMap<>();
        Count count = new Count("night one");
        all.put("duplicateSpecies", () -> count.add("tawny", 2).add("tawny", 3));
        all.put("negative", () -> count.add("barn", -1));
        all.put("averageOfNothing", () -> new Count("empty").average());
        all.put("mostOfNothing", () -> new Count("empty").most());
        all.put("brokenLine", () -> Reader.read("tawny two"));
        all.put("lineWithoutCount", () -> Reader.read("tawny"));
        all.put("badDateInHeader", () -> Reader.header("2026-13-40"));
        all.put("closedReport", () -> new Report().close().write("more"));
        all.put("unmodifiable", () -> count.species().add("eagle"));
        all.put("changedWhileWalked", () -> new Count("walked").add("a", 1).add("b", 1).add("c", 1).clean());
        all.put("wrongCast", () -> Registry.as(Integer.class, "a text"));
        all.put("missingService", () -> Registry.service("clock").start());
        all.put("listenerFails", () -> new Bus().on(event -> event.substring(9)).fire("hoot"));
        all.put("listenerOfListener", () -> new Bus().chain("hoot"));
        all.put("endlessVisit", () -> new Forest().visit(0));
        all.put("endlessEquals", () -> new Pair().equals(new Pair()));
        all.put("kotlinWhen", () -> OwlsKt.kindOf(9));
        all.put("kotlinNotNull", () -> OwlsKt.firstPlace(Collections.emptyMap()));
        all.put("kotlinSequence", () -> OwlsKt.nights(Arrays.asList("1", "x")));
        all.put("kotlinDelegate", () -> new Box().getLid());
        all.put("kotlinExtension", () -> OwlsKt.shorten("ab"));
        all.put("kotlinSuspend", () -> OwlsKt.listen());
        all.put("kotlinHigherOrder", () -> OwlsKt.tallyOf(3));
        return all;
    }
}
