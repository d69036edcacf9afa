package android.content.res;

public class Resources {
  public static class NotFoundException extends RuntimeException {}

  public Configuration getConfiguration() { return new Configuration(); }

  public String getResourceEntryName(int id) {
    if (id > 100) throw new NotFoundException();
    return "view_" + id;
  }
}
