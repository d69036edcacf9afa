// Writes what a general metadata library (Debian libmono-cecil-private-cil) reads from an assembly and its portable PDB:
//   id      <module version id>  <PDB id>
//   method  <token>  <full name>  <parameter types>  <token of the method a state machine belongs to>
//   point   <token>  <IL offset>  <line, 0 when hidden>  <column>  <document>
// "convert" writes the debug information that mcs made into a portable PDB first.
using System;
using System.IO;
using System.Linq;
using Mono.Cecil;
using Mono.Cecil.Cil;
using Mono.CompilerServices.SymbolWriter;

public static class Record
{
    public static void Main(string[] arguments)
    {
        if (arguments[0] == "convert")
        {
            Convert(arguments[1], arguments[2], arguments[3]);
            return;
        }
        using (var module = ModuleDefinition.ReadModule(arguments[0], new ReaderParameters { ReadSymbols = true, SymbolReaderProvider = new PortablePdbReaderProvider() }))
        {
            Console.WriteLine("id\t{0}\t{1}", module.Mvid, PdbId(arguments[1]));
            foreach (var type in module.GetTypes())
                foreach (var method in type.Methods)
                {
                    var kickoff = method.DebugInformation == null ? null : method.DebugInformation.StateMachineKickOffMethod;
                    var parameters = string.Join(", ", method.Parameters.Select(one => one.ParameterType.FullName));
                    Console.WriteLine("method\t0x{0:x}\t{1}::{2}\t{3}\t{4}", method.MetadataToken.ToUInt32(), type.FullName, method.Name + Arguments(method), parameters.Replace("0...", ""),
                        kickoff == null ? "" : "0x" + kickoff.MetadataToken.ToUInt32().ToString("x"));
                    if (method.DebugInformation == null || !method.DebugInformation.HasSequencePoints) continue;
                    foreach (var point in method.DebugInformation.SequencePoints)
                        Console.WriteLine("point\t0x{0:x}\t{1}\t{2}\t{3}\t{4}", method.MetadataToken.ToUInt32(), point.Offset,
                            point.IsHidden ? 0 : point.StartLine, point.IsHidden ? 0 : point.StartColumn, point.Document.Url);
                }
        }
    }

    static string Arguments(MethodDefinition method)
    {
        return method.HasGenericParameters ? "[" + string.Join(",", method.GenericParameters.Select(one => one.Name)) + "]" : "";
    }

    static void Convert(string from, string to, string kind)
    {
        using (var module = ModuleDefinition.ReadModule(from, new ReaderParameters { InMemory = true }))
        using (var lines = MonoSymbolFile.ReadSymbolFile(from + ".mdb"))
        {
            var documents = lines.Sources.ToDictionary(one => one.Index, one => new Document(one.FileName.Substring(Directory.GetCurrentDirectory().Length + 1)) { Type = DocumentType.Text });
            foreach (var entry in lines.Methods)
            {
                var method = (MethodDefinition)module.LookupToken(new MetadataToken((uint)entry.Token));
                method.DebugInformation.Scope = new ScopeDebugInformation(method.Body.Instructions[0], null);
                foreach (var line in entry.GetLineNumberTable().LineNumbers)
                {
                    var instruction = method.Body.Instructions.FirstOrDefault(one => one.Offset == line.Offset);
                    if (instruction == null) continue;
                    var row = line.IsHidden ? 0xfeefee : line.Row;
                    method.DebugInformation.SequencePoints.Add(new SequencePoint(instruction, documents[line.File])
                    {
                        StartLine = row, EndLine = row, StartColumn = line.IsHidden ? 0 : Math.Max(line.Column, 1), EndColumn = line.IsHidden ? 0 : Math.Max(line.Column, 1) + 1,
                    });
                }
                var machine = method.DeclaringType.Name;
                if (method.Name == "MoveNext" && machine.StartsWith("<"))
                    method.DebugInformation.StateMachineKickOffMethod = method.DeclaringType.DeclaringType.Methods.FirstOrDefault(one => machine.StartsWith("<" + one.Name + ">"));
            }
            var writer = kind == "embedded" ? (ISymbolWriterProvider)new EmbeddedPortablePdbWriterProvider() : new PortablePdbWriterProvider();
            module.Write(to, new WriterParameters { WriteSymbols = true, SymbolWriterProvider = writer });
        }
    }

    // The first 20 bytes of the #Pdb stream, which is the first stream in the files recorded here.
    static string PdbId(string path)
    {
        var bytes = File.ReadAllBytes(path);
        var name = System.Text.Encoding.ASCII.GetBytes("#Pdb\0");
        var at = Enumerable.Range(0, 256).First(index => name.Select((one, offset) => bytes[index + offset] == one).All(same => same));
        var start = BitConverter.ToInt32(bytes, at - 8);
        return BitConverter.ToString(bytes, start, 20).Replace("-", "").ToLowerInvariant();
    }
}
