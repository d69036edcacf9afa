package android.os;

import java.util.concurrent.LinkedBlockingQueue;

/** The main thread, which does one thing after the other. */
public final class Looper {
  private static final Looper main = new Looper();
  final LinkedBlockingQueue<Runnable> queue = new LinkedBlockingQueue<>();
  private final Thread thread = new Thread(() -> {
    try {
      for (;;) queue.take().run();
    } catch (InterruptedException ended) {
      Thread.currentThread().interrupt();
    }
  }, "main");

  private Looper() {
    thread.setDaemon(true);
    thread.start();
  }

  public static Looper getMainLooper() { return main; }
  public Thread getThread() { return thread; }
}
