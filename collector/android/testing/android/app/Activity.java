package android.app;

import android.view.View;
import android.view.ViewGroup;
import android.view.Window;

/** An activity of the app, with a few views on its screen. */
public class Activity extends android.content.Context {
  public Window getWindow() {
    return new Window(new ViewGroup(View.NO_ID, new ViewGroup(7, new View(8, View.GONE), new View(900, View.VISIBLE))));
  }
}
