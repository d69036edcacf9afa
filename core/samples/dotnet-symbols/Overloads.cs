// Methods of one name, which a stack without tokens tells apart by their parameters alone.
using System;
using System.Collections.Generic;

namespace Larkfield.Survey
{
    public class Ledger<TKey>
    {
        public int Count(int step)
        {
            return 10 / (step - step);
        }

        public int Count(string name)
        {
            return name.Length;
        }

        public int Count(string[] names, ref int total)
        {
            total = names.Length;
            return total;
        }

        public int Count(Dictionary<TKey, List<string>> plots, int[,] grid)
        {
            return plots.Count + grid.Length;
        }

        public int Count<TOther>(TKey key, TOther other, Plot plot)
        {
            return plot.Counts.Length;
        }

        public IEnumerable<int> Steps(int[] counts)
        {
            foreach (var count in counts)
                yield return 100 / count;
        }

        static Ledger()
        {
        }
    }

    public static class Overloads
    {
        static void Try(Action one)
        {
            try { one(); }
            catch (Exception problem) { Console.Error.WriteLine(problem); }
        }

        public static void Main(string[] arguments)
        {
            if (arguments[0] == "overloads") Run();
            else Program.Main(arguments);
        }

        static void Run()
        {
            var ledger = new Ledger<string>();
            var total = 0;
            Try(() => ledger.Count(3));
            Try(() => ledger.Count((string)null));
            Try(() => ledger.Count(null, ref total));
            Try(() => ledger.Count((Dictionary<string, List<string>>)null, new int[2, 2]));
            Try(() => ledger.Count("oak", 3, null));
            Try(() =>
            {
                foreach (var step in ledger.Steps(new[] { 1, 0 }))
                    Console.WriteLine(step);
            });
        }
    }
}
