package com.larkfield.causes;

import com.larkfield.ringing.*;
import java.util.*;

final class Causes {
    static Map<String, Runnable> all() {
        Map<String, Runnable> all = new LinkedHashMap<>();
        Desk desk = new Desk();
        all.put("unknownRing", () -> desk.show("X-1"));
        all.put("ringTooLong", () -> desk.enter("ABCDEFGHIJKL-123"));
        all.put("ringTooShort", () -> desk.rename("X-1", ""));
        all.put("sameHelperInPrint", () -> desk.print(null));
        all.put("sameHelperInSend", () -> desk.send(null));
        all.put("defaultMethod", () -> new Sparrow().greet());
        all.put("overriddenDefault", () -> new Wren().greet());
        all.put("lambdaInStream", () -> desk.totals(Arrays.asList("1", "two")));
        all.put("methodReference", () -> desk.lengths(Arrays.asList("a", null)));
        all.put("privateOfOuter", () -> desk.new Drawer().open());
        all.put("bridge", () -> Desk.compareRings(new RingOrder()));
        all.put("anonymousClass", () -> desk.later().run());
        all.put("staticInit", () -> desk.scale());
        all.put("nestedCause", () -> desk.load("nowhere"));
        all.put("recursionOfOne", () -> Tree.depth(new Tree("a")));
        all.put("recursionOfThree", () -> Tree.even(new Tree("b")));
        all.put("coroutine", () -> RingsKt.syncNow("plot"));
        all.put("kotlinLambda", () -> RingsKt.filterRings(Arrays.asList("a", "")));
        all.put("kotlinInline", () -> RingsKt.measureAll(new int[] {1, 2}));
        all.put("kotlinDefaultArgument", () -> RingsKt.callDefault());
        all.put("kotlinCompanion", () -> Nest.Companion.find("low"));
        all.put("kotlinLazy", () -> new Nest("x").summary());
        all.put("kotlinInterface", () -> new Hedge().visit());
        all.put("kotlinLocal", () -> RingsKt.walk(3));
        return all;
    }
}
