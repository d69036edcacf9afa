// Wardens' Survey in small: what each screen does with the plots that really come from the field now and then.
using System;
using System.Collections.Generic;
using System.Linq;
using System.Threading.Tasks;

namespace Larkfield.Survey
{
    public class Plot
    {
        public string Name;
        public string Warden;
        public int[] Counts;

        public int Mean()
        {
            return Counts.Sum() / Counts.Count(count => count > 0);
        }
    }

    public class PlotStore
    {
        readonly Dictionary<string, Plot> plots = new Dictionary<string, Plot>();

        Plot Find(string name)
        {
            return plots[name];
        }

        public async Task<Plot> LoadAsync(string name)
        {
            await Task.Yield();
            return Find(name);
        }

        public void Save(Plot plot)
        {
            try
            {
                plot.Warden.Trim();
            }
            catch (NullReferenceException problem)
            {
                throw new InvalidOperationException("the plot " + plot.Name + " could not be saved", problem);
            }
        }
    }

    public class PlotPage
    {
        readonly PlotStore store = new PlotStore();

        public async Task OpenAsync(string name)
        {
            var plot = await store.LoadAsync(name);
            Console.WriteLine(plot.Mean());
        }

        public void Summarise()
        {
            Console.WriteLine(new Plot { Counts = new[] { 0, 0 } }.Mean());
        }

        public void Save()
        {
            store.Save(new Plot { Name = "north field" });
        }
    }

#if CALENDAR
    public class Calendar
    {
        readonly List<DateTime> visits = new List<DateTime>();

        public DateTime NextVisit(int warden)
        {
            return visits[warden % 7];
        }

        public void Show(int warden)
        {
            Console.WriteLine(NextVisit(warden));
        }
    }
#endif

    public static class Program
    {
        public static void Main(string[] arguments)
        {
            switch (arguments[0])
            {
                case "plot": new PlotPage().OpenAsync("north field").GetAwaiter().GetResult(); break;
                case "summary": new PlotPage().Summarise(); break;
                case "save": new PlotPage().Save(); break;
#if CALENDAR
                case "calendar": new Calendar().Show(3); break;
#endif
            }
        }
    }
}
