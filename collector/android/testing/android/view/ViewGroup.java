package android.view;

import java.util.Arrays;
import java.util.List;

public class ViewGroup extends View {
  private final List<View> children;

  public ViewGroup(int id, View... children) {
    super(id, VISIBLE);
    this.children = Arrays.asList(children);
  }

  public int getChildCount() { return children.size(); }
  public View getChildAt(int index) { return children.get(index); }
}
