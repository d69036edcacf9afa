using System;
using System.Collections.Generic;

namespace Larkfield.Causes
{
    /// <summary>Runs each cause and prints what the runtime says of what was thrown.</summary>
    static class RunCauses
    {
        static void Main()
        {
            foreach (KeyValuePair<string, Action> cause in Causes.All())
            {
                Console.WriteLine("cause " + cause.Key);
                try
                {
                    cause.Value();
                }
                catch (Exception problem)
                {
                    Console.WriteLine(problem);
                }
                Console.WriteLine("end");
            }
        }
    }
}
