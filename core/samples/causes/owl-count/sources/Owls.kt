package com.larkfield.owls

import kotlin.coroutines.Continuation
import kotlin.coroutines.EmptyCoroutineContext
import kotlin.coroutines.resume
import kotlin.coroutines.startCoroutine
import kotlin.coroutines.suspendCoroutine
import kotlin.properties.Delegates

enum class Kind { BARN, TAWNY }

fun kindOf(number: Int): String = when (Kind.values()[number]) {
    Kind.BARN -> "barn"
    Kind.TAWNY -> "tawny"
}

fun firstPlace(places: Map<String, List<String>>): Int = places["first"]!!.size

fun nights(lines: List<String>): Int = lines.asSequence().filter { it.isNotEmpty() }.map { it.toInt() }.sum()

class Box {
    var lid: String by Delegates.notNull()
}

private fun String.tail(from: Int): String = substring(from)

fun shorten(text: String): String = text.tail(4)

private var pending: Continuation<Int>? = null

private suspend fun hear(): Int = suspendCoroutine { pending = it }

private suspend fun listenTwice(): Int {
    val first = hear()
    val second = listOf(1, 2)[first]
    return first + second
}

fun listen() {
    val body: suspend () -> Int = { listenTwice() }
    body.startCoroutine(Continuation(EmptyCoroutineContext) { println(it.getOrThrow()) })
    pending!!.resume(7)
}

fun tally(steps: Int, each: (Int) -> Int): Int {
    var sum = 0
    for (step in 1..steps) sum += each(step)
    return sum
}

fun tallyOf(steps: Int): Int = tally(steps) { 10 / (it - 2) }
