// Wardens' Survey in small: each story ends in an exception that nobody catches.
using System;
using System.Collections.Generic;
using System.Linq;
using System.Runtime.ExceptionServices;
using System.Threading.Tasks;

namespace Larkfield.Survey
{
    public class Plot
    {
        public string Warden;
        public int[] Counts;
        public int Total() { return Counts.Sum(count => 10 / count); }
    }

    public class Store
    {
        readonly Dictionary<string, Plot> plots = new Dictionary<string, Plot>();

        public Plot Find(string name) { return plots[name]; }

        public async Task<Plot> LoadAsync(string name)
        {
            await Task.Yield();
            return Find(name);
        }

        public void Save(Plot plot)
        {
            try { plot.Warden.Trim(); }
            catch (NullReferenceException problem) { throw new InvalidOperationException("plot could not be saved", problem); }
        }

        public class Cache<TKey, TValue>
        {
            public TValue Get(TKey key) { throw new KeyNotFoundException("not cached: " + key); }
        }
    }

    public static class Program
    {
        static void Rethrow()
        {
            ExceptionDispatchInfo kept = null;
            try { new Store().Find("north field"); }
            catch (Exception problem) { kept = ExceptionDispatchInfo.Capture(problem); }
            kept.Throw();
        }

        public static void Main(string[] arguments)
        {
            switch (arguments[0])
            {
                case "inner": new Store().Save(new Plot()); break;
                case "lambda": new Plot { Counts = new[] { 3, 0 } }.Total(); break;
                case "async": new Store().LoadAsync("north field").GetAwaiter().GetResult(); break;
                case "aggregate": new Store().LoadAsync("north field").Wait(); break;
                case "generic": new Store.Cache<string, int>().Get("oak"); break;
                case "rethrown": Rethrow(); break;
                case "static": Broken.Use(); break;
            }
        }
    }

    static class Broken
    {
        static readonly int[] limits = { 1 };
        static readonly int limit = limits[limits.Length];
        public static void Use() { Console.WriteLine(limit); }
    }
}
