using System;
using System.Collections.Generic;
using System.Linq;
using System.Threading.Tasks;

namespace Larkfield.Causes
{
    using Plots;

    static class Causes
    {
        public static Dictionary<string, Action> All()
        {
            var store = new Store();
            return new Dictionary<string, Action>
            {
                ["unknownPlot"] = () => store.Rename("north", "south"),
                ["unknownPlotInArea"] = () => store.AreaOf("north"),
                ["lambda"] = () => store.Longest(new[] { "ab", null }),
                ["recursiveLambda"] = () => store.Walk(2),
                ["iterator"] = () => store.Rows("a;b").ToList(),
                ["async"] = () => store.LoadAsync("north").GetAwaiter().GetResult(),
                ["asyncInner"] = () => store.SaveAllAsync().GetAwaiter().GetResult(),
                ["generic"] = () => new Grid<string>(2).At(3),
                ["genericOfInts"] = () => new Grid<int>(2).First(value => value > 3),
                ["property"] = () => Console.WriteLine(new Plot(null).Label),
                ["constructor"] = () => new Plot(""),
                ["typeInitializer"] = () => Console.WriteLine(Units.Square),
                ["indexer"] = () => Console.WriteLine(store["west", 1]),
                ["wrapped"] = () => store.Import("x"),
            };
        }
    }
}

namespace Larkfield.Plots
{
    public class Plot
    {
        readonly string name;

        public Plot(string name)
        {
            if (name == "") throw new ArgumentException("a plot has a name");
            this.name = name;
        }

        public string Label => name.ToUpper();
    }

    static class Units
    {
        public static readonly int Square = int.Parse("a square");
    }

    public class Grid<T>
    {
        readonly T[] cells;

        public Grid(int size)
        {
            cells = new T[size];
        }

        public T At(int place) => cells[place];

        public T First(Func<T, bool> holds) => cells.First(holds);
    }

    public class Store
    {
        readonly Dictionary<string, Plot> plots = new Dictionary<string, Plot>();

        Plot Find(string name) => plots[name];

        public void Rename(string name, string wanted)
        {
            plots[wanted] = Find(name);
        }

        public int AreaOf(string name)
        {
            return Find(name).Label.Length;
        }

        public int Longest(string[] names) => names.Max(name => name.Length);

        public int Walk(int steps)
        {
            Func<int, int> step = null;
            step = left =>
            {
                if (left == 0) throw new InvalidOperationException("no steps left");
                return step(left - 1);
            };
            return step(steps);
        }

        public IEnumerable<int> Rows(string text)
        {
            foreach (string part in text.Split(';')) yield return int.Parse(part);
        }

        public async Task<int> LoadAsync(string name)
        {
            await Task.Yield();
            return Find(name).Label.Length;
        }

        public async Task SaveAllAsync()
        {
            await SaveAsync(null);
        }

        async Task SaveAsync(Plot plot)
        {
            await Task.Delay(1);
            Console.WriteLine(plot.Label);
        }

        public string this[string name, int at] => name.Split('e')[at + 1];

        public void Import(string text)
        {
            try
            {
                Parse(text);
            }
            catch (FormatException problem)
            {
                throw new InvalidOperationException("could not import", problem);
            }
        }

        static int Parse(string text) => Convert.ToInt32(text);
    }
}
