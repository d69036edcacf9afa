using System;
using System.Collections.Generic;
using System.Linq;
using System.Threading.Tasks;

namespace Larkfield.Causes
{
    using Seeds;

    static class Causes
    {
        public static Dictionary<string, Action> All()
        {
            var bank = new Bank();
            return new Dictionary<string, Action>
            {
                ["emptyJar"] = () => bank.Take("poppy"),
                ["fullShelf"] = () => bank.Fill(9),
                ["unknownJar"] = () => bank.Open("oats"),
                ["badWeight"] = () => bank.Weigh("ten grams"),
                ["noWeight"] = () => bank.Weigh(null),
                ["wrongKind"] = () => bank.Cast<Bank>("a jar"),
                ["event"] = () => bank.Shake(),
                ["asyncAll"] = () => bank.CountAsync(new[] { "a", null }).GetAwaiter().GetResult(),
                ["query"] = () => bank.Names(new[] { "a", "" }).ToArray(),
                ["disposed"] = () => bank.Borrow(),
            };
        }
    }
}

namespace Larkfield.Seeds
{
    sealed class Ladle : IDisposable
    {
        bool gone;

        public void Dispose()
        {
            gone = true;
        }

        public int Scoop()
        {
            if (gone) throw new ObjectDisposedException("ladle");
            return 1;
        }
    }

    public class Bank
    {
        readonly Queue<string> poppies = new Queue<string>();
        readonly List<int> shelf = new List<int> { 1, 2 };
        event Action<int> Shaken;

        public string Take(string kind) => kind == "poppy" ? poppies.Dequeue() : null;

        public void Fill(int jars)
        {
            for (int jar = 0; jar < jars; jar++) shelf[jar] += Put(jar);
        }

        int Put(int jar)
        {
            return jar * 2;
        }

        public string Open(string kind)
        {
            return new[] { "poppy" }.Single(one => one == kind);
        }

        public int Weigh(string text) => Units(text) * 2;

        static int Units(string text) => int.Parse(text.Trim());

        public T Cast<T>(object jar) => (T)jar;

        public void Shake()
        {
            Shaken += times => shelf.RemoveAt(times);
            Shaken(7);
        }

        public async Task<int> CountAsync(string[] names)
        {
            int[] counts = await Task.WhenAll(names.Select(LengthAsync));
            return counts.Sum();
        }

        async Task<int> LengthAsync(string name)
        {
            await Task.Yield();
            return name.Length;
        }

        public IEnumerable<char> Names(string[] names) => from name in names where name != null select name[0];

        public int Borrow()
        {
            var ladle = new Ladle();
            using (ladle) ladle.Scoop();
            return ladle.Scoop();
        }
    }
}
