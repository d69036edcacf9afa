package com.larkfield.causes;

import java.util.Map;

/** Runs each cause on a thread of its own and lets the virtual machine print what it does with an exception that nobody catches. */
public final class RunCauses {
    public static void main(String[] arguments) throws InterruptedException {
        for (Map.Entry<String, Runnable> cause : Causes.all().entrySet()) {
            System.err.println("cause " + cause.getKey());
            Thread thread = new Thread(cause.getValue(), "main");
            thread.start();
            thread.join();
            System.err.println("end");
        }
    }
}
