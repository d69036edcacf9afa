package com.larkfield.guide.tides;

import java.util.concurrent.CompletableFuture;

/** Loads the table on a worker thread and shows it. */
public final class TideScreen {
    private final TideClient client = new TideClient(10000);

    public void open() throws InterruptedException {
        Thread worker = new Thread(this::load, "tide-loader");
        worker.start();
        worker.join();
    }

    private void load() {
        CompletableFuture<String> table = CompletableFuture.completedFuture("Burnmouth").thenApply(client::fetch);
        System.out.println(table.join());
    }
}
