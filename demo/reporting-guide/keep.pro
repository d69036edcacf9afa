-keep public class com.larkfield.guide.ReportingGuide {
    public static void main(java.lang.String[]);
}
-keepattributes SourceFile,LineNumberTable
-renamesourcefileattribute SourceFile
-repackageclasses ''
-allowaccessmodification
-overloadaggressively
-dontnote
