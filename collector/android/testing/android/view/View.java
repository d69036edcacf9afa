package android.view;

import android.content.res.Resources;

public class View {
  public static final int NO_ID = -1;
  public static final int VISIBLE = 0;
  public static final int GONE = 8;
  private final int id;
  private final int visibility;

  public View(int id, int visibility) {
    this.id = id;
    this.visibility = visibility;
  }

  public int getId() { return id; }
  public int getVisibility() { return visibility; }
  public Resources getResources() { return new Resources(); }
}
